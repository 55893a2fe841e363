import type { Crop } from './settings';
import type { Raster, Rect } from '../../raster/raster';

// What the figures of this file rest on: docs/decisions/008-ink-and-paper.md

/** Fainter pixels do not count as content. */
const SEEN_ALPHA = 8;

/** The smallest box that holds all pixels with an alpha above `faint`; null where there is none. */
export function contentOf({ width, height, data }: Raster, faint = SEEN_ALPHA): Rect | null {
  let left = width;
  let right = -1;
  let top = -1;
  let bottom = -1;
  for (let y = 0; y < height; y++) {
    for (let x = 0, p = y * width * 4 + 3; x < width; x++, p += 4) {
      if (data[p]! <= faint) continue;
      if (top < 0) top = y;
      bottom = y;
      if (x < left) left = x;
      if (x > right) right = x;
    }
  }
  return top < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

/** Space around content: this share of its longer side, and so much at least. */
const MARGIN_SHARE = 0.04;
const LEAST_MARGIN_PX = 8;

/** A crop around content with a margin, within a picture. */
export function cropAround(content: Rect, width: number, height: number): Crop {
  const longer = Math.max(content.width, content.height);
  const margin = Math.max(LEAST_MARGIN_PX, Math.round(longer * MARGIN_SHARE));
  const x = Math.max(0, content.x - margin);
  const y = Math.max(0, content.y - margin);
  return {
    x,
    y,
    width: Math.min(width, content.x + content.width + margin) - x,
    height: Math.min(height, content.y + content.height + margin) - y,
  };
}
