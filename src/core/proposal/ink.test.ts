import { describe, expect, it } from 'vitest';
import { blotches, noise, paint } from '../../../tests/make/pictures';
import { strokeAt, writtenSheet, type SheetOptions } from '../../../tests/make/sheets';
import { renderCut } from '../render';
import { lookForInk } from './ink';
import { propose } from './propose';

describe('ink on paper', () => {
  it('is told from the thin dark strokes on a light sheet', () => {
    const { kind, cut, reason } = propose(writtenSheet());
    expect(kind).toBe('ink');
    expect(reason).toMatch(/^Ink on (pale yellow|off-white) paper; read from /);
    expect(cut!.prepare).toMatchObject({ flatten: 0, removeRules: false, crop: null, straightenDeg: 0 });
  });

  it('is told from strokes that are broad along rows and columns alone', () => {
    // Slanted strokes of 8 px: 11 along rows and columns, where 9 is the most.
    const slanted = paint(480, 360, (x, y) => {
      const across = Math.abs(((x + y) % 60) - 30) / Math.SQRT2;
      const written = x > 120 && x < 360 && y > 150 && y < 210;
      return written && across < 4 ? [30, 32, 60] : [240, 234, 220];
    });
    expect(lookForInk({ original: slanted })).toBeTypeOf('object');
    const blocks = paint(480, 360, (x, y) =>
      x > 200 && x < 260 && y > 150 && y < 210 ? [30, 32, 60] : [240, 234, 220],
    );
    expect(lookForInk({ original: blocks })).toBe('broad');
  });

  it('comes with all that its sheet needs, and is framed only where that was wished for', () => {
    const sheet = writtenSheet({
      rules: 28,
      rulesDeg: 3,
      width: 480,
      height: 360,
      grain: 2,
      light: (x, y) => (x + y > 420 ? 0.65 : 1),
    });
    const plain = propose(sheet);
    expect(plain.cut!.prepare).toMatchObject({
      flatten: 100,
      removeRules: true,
      crop: null,
      straightenDeg: 0,
    });
    expect(plain.cut!.prepare.calm).toBeGreaterThan(0);
    const framed = propose(sheet, { crop: true, straighten: true });
    expect(framed.cut!.prepare.straightenDeg).toBeCloseTo(-3, 0.7);
    expect(framed.reason).toMatch(
      /uneven light flattened; ruled lines removed; grain calmed; straightened by -3.*; cropped to the writing/,
    );
    const { raster, alpha } = renderCut(sheet, framed.cut!);
    expect(raster.width).toBeLessThan(460);
    expect(alpha.opaque).toBeGreaterThan(300);
    expect(alpha.transparent / (raster.width * raster.height)).toBeGreaterThan(0.9);
  });

  it('is seen on a sheet before a dark ground, which is squared up', () => {
    const sheet = writtenSheet({ width: 420, height: 240 });
    const onGlass = paint(480, 300, (x, y) => {
      const [u, v] = [x - 30, y - 30];
      if (u < 0 || v < 0 || u >= 420 || v >= 240) return [48, 46, 45];
      const p = (v * 420 + u) * 4;
      return [sheet.data[p]!, sheet.data[p + 1]!, sheet.data[p + 2]!];
    });
    const { kind, cut, reason } = propose(onGlass, { crop: true });
    expect(kind).toBe('ink');
    expect(cut!.prepare.corners).not.toBeNull();
    expect(reason).toContain('the sheet squared up');
    expect(propose(onGlass).kind).not.toBe('ink');
  });

  it.each([
    ['a drawn white', { paper: [255, 255, 255] }],
    ['a broad shape', { wide: 40 }],
    ['a light line', { ink: [210, 170, 120] }],
    ['a dark ground', { paper: [40, 44, 60], ink: [240, 240, 230] }],
  ] as [string, SheetOptions][])('is not told from %s', (_what, options) => {
    expect(propose(writtenSheet(options)).kind).not.toBe('ink');
  });

  it('is read from a drawn white where somebody asks for it', () => {
    expect(propose(writtenSheet({ paper: [255, 255, 255] }), { method: 'ink' }).kind).toBe('ink');
    expect(propose(writtenSheet({ wide: 4 }), { method: 'color' }).kind).toBe('flat');
    expect(propose(writtenSheet(), { method: 'ink', channel: 'green' }).cut!.clear.ink!.channel).toBe(
      'green',
    );
  });
});

describe('what is no ink on paper', () => {
  const halves = paint(300, 200, (x) => (x < 150 ? [30, 30, 30] : [244, 240, 232]));
  const hues = paint(360, 200, (x, y) => {
    const near = Math.abs(y - 100 - 40 * Math.sin(x / 23)) < 2 && x > 40 && x < 320;
    if (!near) return [244, 240, 232];
    return x < 180 ? [160, 20, 20] : [20, 40, 160];
  });

  const wall = paint(360, 200, (x, y) => {
    const share = strokeAt(x, y, {});
    const along = y / 200;
    const ground = [166 + 62 * along, 196 + 8 * along, 214 - 48 * along];
    return [0, 1, 2].map((c) => Math.round([110, 30, 50][c]! * share + ground[c]! * (1 - share))) as [
      number,
      number,
      number,
    ];
  });

  it.each([
    ['a page with nothing on it', paint(300, 200, () => [243, 238, 224]), 'blank'],
    ['a page of solid ink', paint(300, 200, () => [20, 22, 34]), 'dark'],
    ['a 20 x 20 scan', writtenSheet({ width: 20, height: 20 }), 'too small'],
    ['a page that is half dark', halves, 'broad'],
    ['lines of two colors', hues, 'many hues'],
    ['a strongly colored ground', paint(300, 200, () => [240, 120, 90]), 'colored'],
    ['threads before a wall that goes from sand to sky', wall, 'patchy'],
    ['a photo', blotches(300, 200, 4), null],
    ['noise', noise(300, 200), null],
  ] as const)('is named: %s', (_what, raster, why) => {
    const found = lookForInk({ original: raster });
    expect(typeof found).toBe('string');
    if (why) expect(found).toBe(why);
    expect(() => propose(raster, { method: 'ink' })).toThrow(
      /^No ink was cleared and nothing was written\. /,
    );
  });

  it('proposes nothing for an empty page, and says so', () => {
    const { kind, cut, reason } = propose(paint(300, 200, () => [243, 238, 224]));
    expect([kind, cut]).toEqual(['blank', null]);
    expect(reason).toMatch(/no ink, no subject/);
  });

  it('refuses to keep places by ink', () => {
    expect(() => propose(writtenSheet(), { method: 'ink', keep: [{ x: 1, y: 1 }] })).toThrow(/--keep/);
  });
});
