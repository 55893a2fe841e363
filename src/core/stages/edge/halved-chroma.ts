import { median } from '../../numeric/statistics';
import type { Raster } from '../../raster/raster';

/** Chroma steps that are looked at; at least this large over four pixels, encoded. */
const LEAST_STEP = 30;
const FEWEST = 40;
const ROWS = 400;

/** In full-resolution chroma the steepest of the four steps is most of an edge; in halved chroma none is. */
const STEEP_SHARE = 0.5;

/**
 * Whether a picture keeps chroma at half the resolution of luma, as most compressed photos do (4:2:0): told by how
 * steeply chroma changes along the rows at its strong edges. False where there are too few to tell.
 */
export function hasHalvedChroma({ width, height, data }: Raster): boolean {
  const shares: number[] = [];
  const every = Math.max(1, Math.floor(height / ROWS));
  for (let y = 0; y < height; y += every) {
    for (let x = 2; x < width - 2; x++) {
      const p = (y * width + x) * 4;
      for (const channel of [0, 2]) {
        const share = steepest(data, p, channel);
        if (share !== null) shares.push(share);
      }
    }
  }
  return shares.length >= FEWEST && median(shares) < STEEP_SHARE;
}

/** The largest of the four steps around a pixel as a share of their sum; null where chroma has no strong edge. */
function steepest(data: Uint8Array, p: number, channel: number): number | null {
  const total = chroma(data, p + 8, channel) - chroma(data, p - 8, channel);
  if (Math.abs(total) < LEAST_STEP) return null;
  let most = 0;
  for (let k = -2; k < 2; k++) {
    const step = chroma(data, p + 4 * k + 4, channel) - chroma(data, p + 4 * k, channel);
    most = Math.max(most, step / total);
  }
  return most;
}

function chroma(data: Uint8Array, p: number, channel: number): number {
  return data[p + channel]! - (0.299 * data[p]! + 0.587 * data[p + 1]! + 0.114 * data[p + 2]!);
}
