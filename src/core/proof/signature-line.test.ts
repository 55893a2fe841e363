import { describe, expect, it } from 'vitest';
import { paint } from '../../../tests/make/pictures';
import { seededRandom } from '../numeric/random';
import type { Raster } from '../raster/raster';
import { signatureLines } from './signature-line';

const DPI = 144;
const px = (mm: number) => (mm * DPI) / 25.4;
const [WIDTH, HEIGHT] = [Math.round(px(210)), Math.round(px(297))];

const sheet = () => paint(WIDTH, HEIGHT, () => [252, 251, 248]);

/** A dark box on a page, in millimeters. */
function box(page: Raster, x: number, y: number, width: number, height: number, tone = 40): void {
  const [left, top] = [Math.round(px(x)), Math.round(px(y))];
  const [right, bottom] = [
    left + Math.max(1, Math.round(px(width))),
    top + Math.max(1, Math.round(px(height))),
  ];
  for (let v = top; v < Math.min(page.height, bottom); v++)
    for (let u = left; u < Math.min(page.width, right); u++)
      page.data.fill(tone, (v * page.width + u) * 4, (v * page.width + u) * 4 + 3);
}

/** Words of upright and level strokes, as high as type of 11 points. */
function text(page: Raster, x: number, y: number, width: number, seed: number): void {
  const random = seededRandom(seed);
  for (let at = x; at < x + width; at += 1.9) {
    if (random() < 0.15) continue;
    box(page, at, y - 2 - (random() < 0.3 ? 1 : 0), 0.35, 2 + (random() < 0.3 ? 1 : 0));
    if (random() < 0.6) box(page, at, y - 0.3, 1.5, 0.3);
    if (random() < 0.6) box(page, at, y - 2, 1.5, 0.3);
    if (random() < 0.5) box(page, at + 1.3, y - 2, 0.35, 2);
  }
}

describe('the line for a signature', () => {
  it.each([
    ['thin', 0.2, 40],
    ['gray', 0.35, 190],
    ['thick', 0.8, 20],
  ])('is found below a letter: %s', (_name, thick, tone) => {
    const page = sheet();
    for (let row = 0; row < 14; row++) text(page, 25, 90 + 6 * row, 150, row);
    box(page, 25, 215, 70, thick, tone);
    text(page, 25, 221, 30, 77);
    const [line, ...rest] = signatureLines(page, DPI);
    expect(rest).toEqual([]);
    expect(line!.x).toBeCloseTo(25, 0);
    expect(line!.width).toBeCloseTo(70, 0);
    expect(Math.abs(line!.y - (215 + thick / 2))).toBeLessThan(0.3);
  });

  it('may be of dots or dashes', () => {
    const page = sheet();
    for (let x = 30; x < 90; x += 1.2) box(page, x, 200, 0.5, 0.3);
    const [line] = signatureLines(page, DPI);
    expect(line!.x).toBeCloseTo(30, 0);
    expect(line!.width).toBeGreaterThan(57);
  });

  it('is none of text, of rules over the whole page, of tables and of what is underlined', () => {
    const page = sheet();
    for (let row = 0; row < 20; row++) text(page, 25, 60 + 5 * row, 160, row);
    box(page, 25, 36, 160, 0.4);
    // A table.
    for (let row = 0; row < 4; row++) box(page, 40, 200 + 12 * row, 60, 0.3);
    for (let column = 0; column < 4; column++) box(page, 40 + 20 * column, 200, 0.3, 36);
    // A heading with a line below.
    text(page, 25, 250, 60, 5);
    box(page, 25, 251.5, 60, 0.4);
    expect(signatureLines(page, DPI)).toEqual([]);
  });

  it('is told first where there is most room to write, then the lower one', () => {
    const page = sheet();
    box(page, 25, 120, 60, 0.3);
    text(page, 25, 111, 60, 3);
    box(page, 25, 220, 60, 0.3);
    box(page, 120, 220, 60, 0.3);
    const lines = signatureLines(page, DPI);
    expect(lines.length).toBeGreaterThanOrEqual(2);
    expect(lines[0]!.y).toBeCloseTo(220, 0);
    expect(lines[1]!.y).toBeCloseTo(220, 0);
  });
});
