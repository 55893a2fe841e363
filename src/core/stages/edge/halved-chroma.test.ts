import { describe, expect, it } from 'vitest';
import { disc, paint } from '../../../../tests/make/pictures';
import type { Raster } from '../../raster/raster';
import { hasHalvedChroma } from './halved-chroma';

/** Keeps luma and replaces chroma by its mean over 5 x 5 pixels, wider than any drawn edge. */
function chromaSpread(raster: Raster): Raster {
  const { width, height, data } = raster;
  const luma = (p: number) => 0.299 * data[p]! + 0.587 * data[p + 1]! + 0.114 * data[p + 2]!;
  return paint(width, height, (x, y) => {
    let red = 0;
    let blue = 0;
    for (let dy = -2; dy <= 2; dy++) {
      for (let dx = -2; dx <= 2; dx++) {
        const nx = Math.min(width - 1, Math.max(0, x + dx));
        const ny = Math.min(height - 1, Math.max(0, y + dy));
        const p = (ny * width + nx) * 4;
        red += (data[p]! - luma(p)) / 25;
        blue += (data[p + 2]! - luma(p)) / 25;
      }
    }
    const own = luma((y * width + x) * 4);
    const channel = (value: number) => Math.round(Math.min(255, Math.max(0, value)));
    return [channel(own + red), channel(own - (0.299 * red + 0.114 * blue) / 0.587), channel(own + blue)];
  });
}

const redDisc = paint(120, 120, (x, y) => {
  const inside = Math.min(1, Math.max(0, 40.5 - Math.hypot(x - 59.5, y - 59.5)));
  return [Math.round(170 + 30 * inside), Math.round(170 - 70 * inside), Math.round(170 - 60 * inside)];
});

describe('hasHalvedChroma', () => {
  it('is false for drawn edges and true once chroma is spread', () => {
    expect(hasHalvedChroma(redDisc)).toBe(false);
    expect(hasHalvedChroma(chromaSpread(redDisc))).toBe(true);
  });

  it('is false where nothing has a color', () => {
    expect(hasHalvedChroma(disc(100, 30))).toBe(false);
  });
});
