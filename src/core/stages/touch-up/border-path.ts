import { clipRect, type Raster, type Rect } from '../../raster/raster';
import type { Point } from '../../numeric/matrix3';

/** How far beside the straight way a border is looked for: this share of the way, and so many pixels at least. */
const ASIDE_SHARE = 0.5;
const LEAST_ASIDE_PX = 16;

/** Larger parts are not searched: the way stays straight. */
const MOST_PIXELS = 700_000;

/** A step along the sharpest border of the part costs this much of one where nothing is. */
const CHEAPEST = 0.02;

const DIAGONAL = Math.SQRT2;

/**
 * The way from one pixel to another along sharp borders: of all ways over 8 neighbors that of the least cost (Dijkstra, 1959),
 * where a pixel costs the less the steeper the picture is there (after Mortensen and Barrett, 1995). Pixels of `raster`, both
 * ends included; straight where the part is too large.
 */
export function borderPath(raster: Raster, from: Point, to: Point): Point[] {
  const start = inside(raster, from);
  const end = inside(raster, to);
  const aside = Math.max(
    LEAST_ASIDE_PX,
    Math.ceil(ASIDE_SHARE * Math.max(Math.abs(end.x - start.x), Math.abs(end.y - start.y))),
  );
  const part = clipRect(
    {
      x: Math.min(start.x, end.x) - aside,
      y: Math.min(start.y, end.y) - aside,
      width: Math.abs(end.x - start.x) + 1 + 2 * aside,
      height: Math.abs(end.y - start.y) + 1 + 2 * aside,
    },
    raster.width,
    raster.height,
  );
  if (part.width * part.height > MOST_PIXELS) return [start, end];
  const costs = costsIn(raster, part);
  const { width, height } = part;
  const first = (start.y - part.y) * width + start.x - part.x;
  const goal = (end.y - part.y) * width + end.x - part.x;
  const reached = new Float64Array(width * height).fill(Infinity);
  const came = new Int32Array(width * height).fill(-1);
  const heap = new Heap();
  reached[first] = 0;
  heap.push(first, 0);
  for (let next = heap.pop(); next; next = heap.pop()) {
    const { at, cost } = next;
    if (cost > reached[at]!) continue;
    if (at === goal) break;
    const x = at % width;
    const y = (at - x) / width;
    for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
      for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
        const i = v * width + u;
        const sum = cost + costs[i]! * (u !== x && v !== y ? DIAGONAL : 1);
        if (sum >= reached[i]!) continue;
        reached[i] = sum;
        came[i] = at;
        heap.push(i, sum);
      }
  }
  const path: Point[] = [];
  for (let i = goal; i >= 0; i = came[i]!)
    path.push({ x: part.x + (i % width), y: part.y + Math.floor(i / width) });
  return path.reverse();
}

function inside({ width, height }: Raster, { x, y }: Point): Point {
  const clamp = (at: number, size: number) => Math.min(size - 1, Math.max(0, Math.floor(at)));
  return { x: clamp(x, width), y: clamp(y, height) };
}

/** What a step onto each pixel of a part costs, CHEAPEST to 1. */
function costsIn({ data, width, height }: Raster, part: Rect): Float64Array {
  const steep = new Float64Array(part.width * part.height);
  let most = 1;
  for (let y = 0, i = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++, i++) {
      const [u, v] = [part.x + x, part.y + y];
      const [left, right] = [Math.max(0, u - 1), Math.min(width - 1, u + 1)];
      const [up, down] = [Math.max(0, v - 1), Math.min(height - 1, v + 1)];
      let sum = 0;
      for (let c = 0; c < 3; c++) {
        const dx = data[(v * width + right) * 4 + c]! - data[(v * width + left) * 4 + c]!;
        const dy = data[(down * width + u) * 4 + c]! - data[(up * width + u) * 4 + c]!;
        sum += dx * dx + dy * dy;
      }
      steep[i] = Math.sqrt(sum);
      most = Math.max(most, steep[i]!);
    }
  return steep.map((value) => {
    const flat = 1 - value / most;
    return CHEAPEST + (1 - CHEAPEST) * flat * flat;
  });
}

/** A binary heap of pixels, the cheapest first. */
class Heap {
  private readonly at: number[] = [];
  private readonly costs: number[] = [];

  push(at: number, cost: number): void {
    let k = this.at.length;
    this.at.push(at);
    this.costs.push(cost);
    while (k > 0) {
      const parent = (k - 1) >> 1;
      if (this.costs[parent]! <= cost) break;
      this.put(k, this.at[parent]!, this.costs[parent]!);
      k = parent;
    }
    this.put(k, at, cost);
  }

  pop(): { readonly at: number; readonly cost: number } | null {
    if (this.at.length === 0) return null;
    const top = { at: this.at[0]!, cost: this.costs[0]! };
    const at = this.at.pop()!;
    const cost = this.costs.pop()!;
    const size = this.at.length;
    if (size === 0) return top;
    let k = 0;
    for (;;) {
      let child = 2 * k + 1;
      if (child >= size) break;
      if (child + 1 < size && this.costs[child + 1]! < this.costs[child]!) child++;
      if (this.costs[child]! >= cost) break;
      this.put(k, this.at[child]!, this.costs[child]!);
      k = child;
    }
    this.put(k, at, cost);
    return top;
  }

  private put(k: number, at: number, cost: number): void {
    this.at[k] = at;
    this.costs[k] = cost;
  }
}
