import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../../tests/make/pictures';
import { asSharp } from '../../../../tests/make/files';
import { seededRandom } from '../../numeric/random';
import { createRaster, type Raster } from '../../raster/raster';
import { drawnColors } from './drawn-colors';

type Color = readonly [number, number, number];
const PAPER: Color = [240, 238, 232];
const INK: Color = [120, 30, 60];
const PALE: Color = [190, 140, 150];
const SIDE = 160;

const behind = (color: Color) => () => ({ red: color[0], green: color[1], blue: color[2] });
const mixed = (alpha: number, over: Color, under: Color): Color =>
  [0, 1, 2].map((c) => Math.round(over[c]! * alpha + under[c]! * (1 - alpha))) as unknown as Color;

/** Share of a pixel that a slanted line covers, from 8 x 8 points. */
function lineAlpha(x: number, y: number, at: number, slope: number, wide: number): number {
  let inside = 0;
  for (let v = 0; v < 8; v++) {
    for (let u = 0; u < 8; u++) {
      const off = y + (v + 0.5) / 8 - at - slope * (x + (u + 0.5) / 8);
      if (Math.abs(off) < wide / 2) inside++;
    }
  }
  return inside / 64;
}

/** Seven lines of a color on paper, each `wide` pixels, and a bar in another or the same where one is given. */
function drawing(line: Color, wide: (k: number) => number, bar: Color | null): Raster {
  return paint(SIDE, SIDE, (x, y) => {
    if (bar && y >= 130 && y < 150 && x >= 20 && x < 140) return bar;
    let alpha = 0;
    for (let k = 0; k < 7; k++)
      alpha = Math.max(alpha, lineAlpha(x, y, 8 + 15 * k, 0.13 + 0.03 * k, wide(k)));
    return mixed(y < 126 ? alpha : 0, line, PAPER);
  });
}

const hexes = (colors: readonly Float64Array[]) =>
  colors.map((color) => [...color].map((value) => Math.round(value)));
const near = (color: Float64Array, wanted: Color, within: number) =>
  color.every((value, c) => Math.abs(value - wanted[c]!) <= within);

describe('the colors of a drawing', () => {
  it('are those of its solid places', () => {
    const picture = paint(SIDE, SIDE, (x, y) =>
      x > 30 && x < 70 && y > 30 && y < 120 ? INK : x > 90 && x < 130 && y > 40 && y < 90 ? PALE : PAPER,
    );
    expect(hexes(drawnColors(picture, behind(PAPER), false))).toEqual([[...INK], [...PALE]]);
  });

  it('do not hold mixtures: lines finer than a pixel belong to the bar of their color', () => {
    const picture = drawing(INK, (k) => 0.5 + 0.12 * k, INK);
    expect(hexes(drawnColors(picture, behind(PAPER), false))).toEqual([[...INK]]);
  });

  it('hold that of lines that are nowhere solid', () => {
    const colors = drawnColors(
      drawing(INK, () => 2.2, null),
      behind(PAPER),
      false,
    );
    expect(colors).toHaveLength(1);
    expect(near(colors[0]!, INK, 8)).toBe(true);
  });

  it('hold that of lines whose chroma ran into the paper, scaled to their luma', async () => {
    const picture = drawing(INK, () => 2.2, null);
    const jpeg = await asSharp(picture)
      .removeAlpha()
      .jpeg({ quality: 92, chromaSubsampling: '4:2:0' })
      .toBuffer();
    const { data } = await sharp(jpeg).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
    const saved = createRaster(SIDE, SIDE, Uint8Array.from(data));
    const colors = drawnColors(saved, behind(PAPER), true);
    expect(colors).toHaveLength(1);
    expect(near(colors[0]!, INK, 14)).toBe(true);
  });

  it('hold none that cannot be shown: where luma hardly differs from the background’s, chroma says nothing', () => {
    const sky: Color = [140, 168, 196];
    // Ridges of light gold in dark gold, which together are about as light as the sky.
    const picture = paint(SIDE, SIDE, (x, y) => {
      const off = Math.abs((y % 16) - 8);
      return x < 8 || x >= SIDE - 8 || off > 1 ? sky : off === 0 ? [236, 206, 120] : [175, 150, 80];
    });
    const colors = drawnColors(picture, behind(sky), true);
    expect(colors.filter((color) => color.some((value) => value < 1 || value > 254))).toEqual([]);
  });

  it('are not told where pale lines may be broad ones of their own or thin ones of the bar’s color', () => {
    const pale = mixed(0.55, INK, PAPER);
    expect(
      drawnColors(
        drawing(pale, () => 2.6, INK),
        behind(PAPER),
        false,
      ),
    ).toEqual([]);
  });

  it('are none of a photo, of noise, of paper, and of a picture smaller than what is looked around', () => {
    const random = seededRandom(5);
    const grain = paint(SIDE, SIDE, () => [
      Math.floor(random() * 256),
      Math.floor(random() * 256),
      Math.floor(random() * 256),
    ]);
    const shaded = paint(SIDE, SIDE, (x, y) => [
      Math.round(40 + 1.2 * x),
      Math.round(200 - y),
      Math.round(90 + 60 * Math.abs(((x + y) % 100) / 50 - 1)),
    ]);
    expect(drawnColors(grain, behind(PAPER), false)).toEqual([]);
    expect(drawnColors(shaded, behind(PAPER), false)).toEqual([]);
    expect(drawnColors(blotches(50, 40, 3), behind(PAPER), true).length).toBeLessThanOrEqual(8);
    expect(
      drawnColors(
        paint(60, 60, () => PAPER),
        behind(PAPER),
        false,
      ),
    ).toEqual([]);
    expect(
      drawnColors(
        paint(5, 3, () => INK),
        behind(PAPER),
        false,
      ),
    ).toEqual([]);
  });

  it('do not depend on which way the picture lies', () => {
    const picture = drawing(INK, (k) => 0.6 + 0.1 * k, INK);
    const turned = paint(SIDE, SIDE, (x, y) => {
      const p = (x * SIDE + y) * 4;
      return [picture.data[p]!, picture.data[p + 1]!, picture.data[p + 2]!];
    });
    expect(hexes(drawnColors(turned, behind(PAPER), false))).toEqual(
      hexes(drawnColors(picture, behind(PAPER), false)),
    );
  });
});
