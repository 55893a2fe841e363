import { blurBox } from '../numeric/box';
import { nearestPixel, pixelDistance } from '../numeric/distance-transform';
import type { Plane } from '../raster/plane';
import type { MarkLook } from './settings';

// What lies under and around a mark, made of its alpha. What the figures of this file rest on: docs/decisions/021-watermarks.md

/** The veil is whole so far from the mark, as a share of its reach, and made of about so many squares to its reach. */
const WHOLE_VEIL_SHARE = 0.25;
const VEIL_CELLS = 10;

/** What is at least so opaque is solid where distances are measured from; of hair lines what is half as opaque as they get. */
const SOLID_ALPHA = 128;

export function solidAlpha({ data }: Plane): number {
  let most = 0;
  for (let i = 0; i < data.length; i++) if (data[i]! > most) most = data[i]!;
  return Math.max(1, Math.min(SOLID_ALPHA, most / 2));
}

/**
 * Alpha that reaches so many pixels farther. The edge of a solid pixel lies by its alpha beyond its middle, so that the grown edge
 * is as smooth (after Gustavson and Strand, Anti-aliased Euclidean distance transform, 2011).
 */
export function grown(alpha: Plane, byPx: number): Plane {
  const { data, width, height } = alpha;
  const least = solidAlpha(alpha);
  const solid = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) solid[i] = data[i]! >= least ? 1 : 0;
  const nearest = nearestPixel({ data: solid, width, height }, 1);
  const out = new Uint8Array(data.length);
  for (let i = 0; i < data.length; i++) {
    const j = nearest[i]!;
    if (j < 0) continue;
    const far = i === j ? 0 : pixelDistance(i, j, width) - (data[j]! / 255 - 0.5);
    const share = Math.min(1, Math.max(0, byPx + 0.5 - far));
    out[i] = Math.max(data[i]!, Math.round(255 * share));
  }
  return { data: out, width, height };
}

/** A shadow: moved, and blurred by three boxes, which come near a Gaussian (Wells, 1986). */
export function shadowOf(
  alpha: Plane,
  { x, y, blur }: NonNullable<MarkLook['shadow']>,
  unitPx: number,
): Plane {
  const { width, height } = alpha;
  const dx = Math.round(x * unitPx);
  const dy = Math.round(y * unitPx);
  let data: ArrayLike<number> = movedBy(alpha, dx, dy);
  const radius = Math.round((blur * unitPx) / 2);
  if (radius > 0) for (let k = 0; k < 3; k++) data = blurBox({ data, width, height }, radius);
  const out = new Uint8Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = Math.round(data[i]!);
  return { data: out, width, height };
}

function movedBy({ data, width, height }: Plane, dx: number, dy: number): Uint8Array {
  const out = new Uint8Array(data.length);
  for (let y = Math.max(0, dy); y < Math.min(height, height + dy); y++)
    for (let x = Math.max(0, dx); x < Math.min(width, width + dx); x++)
      out[y * width + x] = data[(y - dy) * width + x - dx]!;
  return out;
}

/** The veil: whole near the mark, falling off smoothly to nothing at its reach; made coarsely, since it is smooth. */
export function veilOf(alpha: Plane, reachPx: number): Plane {
  const { data, width, height } = alpha;
  const least = solidAlpha(alpha);
  const side = Math.max(1, Math.floor(reachPx / VEIL_CELLS));
  const across = Math.ceil(width / side);
  const down = Math.ceil(height / side);
  const cells = new Uint8Array(across * down);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (data[y * width + x]! >= least) cells[Math.floor(y / side) * across + Math.floor(x / side)] = 1;
  const nearest = nearestPixel({ data: cells, width: across, height: down }, 1);
  const reach = reachPx / side - 1;
  const whole = Math.max(1.5, WHOLE_VEIL_SHARE * reach);
  const far = new Float32Array(cells.length);
  for (let i = 0; i < cells.length; i++) {
    const j = nearest[i]!;
    const distance = j < 0 ? Infinity : i === j ? 0 : pixelDistance(i, j, across);
    const t = Math.min(1, Math.max(0, (reach - distance) / (reach - whole)));
    far[i] = 255 * t * t * (3 - 2 * t);
  }
  const soft = blurBox({ data: far, width: across, height: down }, 1);
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const v = Math.min(down - 1, Math.max(0, (y + 0.5) / side - 0.5));
    const top = Math.floor(v);
    const low = Math.min(down - 1, top + 1);
    for (let x = 0; x < width; x++) {
      const u = Math.min(across - 1, Math.max(0, (x + 0.5) / side - 0.5));
      const left = Math.floor(u);
      const right = Math.min(across - 1, left + 1);
      const upper =
        soft[top * across + left]! + (u - left) * (soft[top * across + right]! - soft[top * across + left]!);
      const lower =
        soft[low * across + left]! + (u - left) * (soft[low * across + right]! - soft[low * across + left]!);
      out[y * width + x] = Math.round(upper + (v - top) * (lower - upper));
    }
  }
  return { data: out, width, height };
}
