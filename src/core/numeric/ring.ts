import { lengthOf, square } from './exact';

/** Pairs of offsets within a radius (at most 127), x, y, x, y and so on, by rising distance; ties in a fixed order. */
export function offsetsWithin(radius: number): Int8Array {
  const reach = Math.floor(radius);
  const all: [number, number][] = [];
  for (let y = -reach; y <= reach; y++) {
    for (let x = -reach; x <= reach; x++) if (x * x + y * y <= radius * radius) all.push([x, y]);
  }
  return Int8Array.from(all.sort((p, q) => square(p[0]) + square(p[1]) - square(q[0]) - square(q[1])).flat());
}

/** For each whole distance the first step of a ring that leads as far. */
export function startsOf(ring: Int8Array, reach: number): Int32Array {
  const starts = new Int32Array(reach + 2).fill(ring.length / 2);
  for (let k = ring.length / 2 - 1; k >= 0; k--) {
    const far = Math.floor(lengthOf(ring[2 * k]!, ring[2 * k + 1]!));
    for (let whole = 0; whole <= far; whole++) starts[whole] = k;
  }
  return starts;
}

/** What a search around one place says of the next: nothing that is looked for lies nearer than it did, less the way from there. */
export class LastSearch {
  private x = 0;
  private y = 0;
  private far = 0;

  /** How far from a place it lies at least, in whole pixels. */
  leastFrom(x: number, y: number): number {
    return Math.max(0, Math.floor(this.far - lengthOf(x - this.x, y - this.y)));
  }

  /** Notes how far from a place it lies at least, in pixels. */
  note(x: number, y: number, far: number): void {
    this.x = x;
    this.y = y;
    this.far = far;
  }
}
