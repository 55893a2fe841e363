import { describe, expect, it } from 'vitest';
import { edgeInput } from '../../../../tests/make/edge-input';
import { paint } from '../../../../tests/make/pictures';
import { seededRandom } from '../../numeric/random';
import { createRaster, wholeOf, type Raster } from '../../raster/raster';
import type { EdgeInput } from './mixture';
import { unmixInto } from './unmix';

const PAPER = [236, 238, 240] as const;
const THREAD = [120, 30, 60] as const;
const SIDE = 90;

/** Threads that fan out from a point and taper to nothing, crossing a bar; alpha from 5 x 5 points a pixel. */
function threadAlpha(x: number, y: number): number {
  let inside = 0;
  for (let v = 0; v < 5; v++) {
    for (let u = 0; u < 5; u++) {
      const px = x + (u + 0.5) / 5;
      const py = y + (v + 0.5) / 5;
      const down = py - 8;
      if (down < 0 || down > 74) continue;
      const half = 0.9 * (1 - down / 76);
      if ([-0.42, -0.2, 0.03, 0.24, 0.46].some((slope) => Math.abs(px - 45 - slope * down) < half)) inside++;
    }
  }
  return inside / 25;
}

function picture(grain: number): Raster {
  const random = seededRandom(12);
  return paint(SIDE, SIDE, (x, y) => {
    const alpha = threadAlpha(x, y);
    const channel = (c: number) => THREAD[c]! * alpha + PAPER[c]! * (1 - alpha) + (random() - 0.5) * grain;
    return [Math.round(channel(0)), Math.round(channel(1)), Math.round(channel(2))];
  });
}

function unmixed(
  raster: Raster,
  cleared: (x: number, y: number) => boolean,
  change: Partial<EdgeInput> = {},
): Raster {
  const out = createRaster(raster.width, raster.height);
  const color = { red: PAPER[0], green: PAPER[1], blue: PAPER[2] };
  unmixInto(edgeInput(raster, cleared, { color, ...change }), wholeOf(raster), out);
  return out;
}

/** Three lines that slant a little and nowhere cover a pixel. */
function hairAlpha(x: number, y: number): number {
  let inside = 0;
  for (let v = 0; v < 10; v++) {
    const py = y + (v + 0.5) / 10;
    if ([20, 44, 69].some((at) => Math.abs(py - at - 0.12 * (x + 0.5)) < 0.34)) inside++;
  }
  return inside / 10;
}

const hairlines = paint(SIDE, SIDE, (x, y) => {
  const alpha = hairAlpha(x, y);
  const channel = (c: number) => Math.round(THREAD[c]! * alpha + PAPER[c]! * (1 - alpha));
  return [channel(0), channel(1), channel(2)];
});

function errorOf(out: Raster): number {
  let sum = 0;
  for (let i = 0; i < SIDE * SIDE; i++) {
    const off = out.data[i * 4 + 3]! / 255 - threadAlpha(i % SIDE, Math.floor(i / SIDE));
    sum += off * off;
  }
  return (1000 * sum) / (SIDE * SIDE);
}

describe('threads', () => {
  it('keep their tips, which a tolerance alone clears', () => {
    const raster = picture(0);
    const cleared = (x: number, y: number) => threadAlpha(x, y) < 0.4;
    const out = unmixed(raster, cleared);
    const hard = createRaster(SIDE, SIDE);
    for (let i = 0; i < SIDE * SIDE; i++)
      hard.data[i * 4 + 3] = cleared(i % SIDE, Math.floor(i / SIDE)) ? 0 : 255;
    expect(errorOf(out)).toBeLessThan(0.25 * errorOf(hard));
  });

  it('come out alike where the areas between them were not cleared', () => {
    const between = (x: number, y: number) =>
      threadAlpha(x, y) > 0.4 || (y > 14 && y < 26 && Math.abs(x - 45) < 9);
    const out = unmixed(picture(0), (x, y) => !between(x, y));
    expect(errorOf(out)).toBeLessThan(4);
    for (const [x, y] of [
      [42, 20],
      [47, 22],
    ] as const) {
      if (threadAlpha(x, y) === 0) expect(out.data[(y * SIDE + x) * 4 + 3]!).toBeLessThan(20);
    }
  });

  it('leave no grain behind beside them', () => {
    const out = unmixed(picture(8), (x, y) => threadAlpha(x, y) < 0.4);
    let left = 0;
    for (let i = 0; i < SIDE * SIDE; i++) {
      const x = i % SIDE;
      const y = Math.floor(i / SIDE);
      const near = [-3, -2, -1, 0, 1, 2, 3].some((dx) =>
        [-3, -2, -1, 0, 1, 2, 3].some((dy) => threadAlpha(x + dx, y + dy) > 0),
      );
      if (!near && out.data[i * 4 + 3]! > 8) left++;
    }
    expect(left).toBeLessThanOrEqual(2);
  });

  it('finer than a pixel get their true alpha where the color of the drawing is known', () => {
    const off = (drawnColors: readonly Float64Array[]) => {
      const out = unmixed(hairlines, (x, y) => hairAlpha(x, y) < 0.3, { drawnColors });
      let most = 0;
      for (let i = 0; i < SIDE * SIDE; i++) {
        const alpha = Math.round(255 * hairAlpha(i % SIDE, Math.floor(i / SIDE)));
        most = Math.max(most, Math.abs(out.data[i * 4 + 3]! - alpha));
      }
      return most;
    };
    expect(off([Float64Array.from(THREAD)])).toBeLessThanOrEqual(3);
    // A color that is not in the picture at all is not taken, and without any there is nothing but mixtures to go by.
    expect(off([Float64Array.of(20, 160, 60)])).toBeGreaterThan(40);
    expect(off([])).toBeGreaterThan(40);
  });

  it('are followed along ends that the tolerance cleared, over more than the zone around what it left', () => {
    const isCleared = (x: number, y: number) => hairAlpha(x, y) < 0.3 || x > 40;
    const out = unmixed(hairlines, isCleared, { drawnColors: [Float64Array.from(THREAD)] });
    let wanted = 0;
    let found = 0;
    for (let x = 42; x < 66; x++) {
      for (let y = 0; y < SIDE; y++) {
        wanted += 255 * hairAlpha(x, y);
        found += out.data[(y * SIDE + x) * 4 + 3]!;
      }
    }
    // A little is missing: what lies there counts as background until it is found.
    expect(found / wanted).toBeGreaterThan(0.9);
    expect(found / wanted).toBeLessThan(1.02);
  });

  it('are not seen in grain, however far the zone would follow them', () => {
    const random = seededRandom(3);
    const raster = paint(SIDE, SIDE, (x, y) => {
      const alpha = x > 24 ? 0 : hairAlpha(x, y);
      const channel = (c: number) => THREAD[c]! * alpha + PAPER[c]! * (1 - alpha) + (random() - 0.5) * 8;
      return [Math.round(channel(0)), Math.round(channel(1)), Math.round(channel(2))];
    });
    const out = unmixed(raster, (x, y) => x > 24 || hairAlpha(x, y) < 0.3, {
      drawnColors: [Float64Array.from(THREAD)],
    });
    let left = 0;
    for (let y = 0; y < SIDE; y++)
      for (let x = 28; x < SIDE; x++) if (out.data[(y * SIDE + x) * 4 + 3]! > 8) left++;
    expect(left).toBeLessThanOrEqual(3);
  });
});

describe('a body among threads', () => {
  /** A body in two shades of gold on blue, from which threads of the lighter one hang. */
  const BLUE = [140, 172, 196] as const;
  const LIGHT = [236, 206, 120] as const;
  const DARK = [188, 166, 148] as const;
  const isBody = (x: number, y: number) => x >= 20 && x < 70 && y >= 10 && y < 40;
  const isThread = (x: number, y: number) => y >= 40 && y < 84 && x >= 22 && x < 68 && x % 6 < 2;
  const raster = paint(SIDE, SIDE, (x, y) => {
    const color = isThread(x, y) ? LIGHT : isBody(x, y) ? (y < 26 ? LIGHT : DARK) : BLUE;
    return [color[0], color[1], color[2]];
  });
  const color = { red: BLUE[0], green: BLUE[1], blue: BLUE[2] };
  const cleared = (x: number, y: number) => !isBody(x, y) && !isThread(x, y);
  const meanAlpha = (drawnColors: readonly Float64Array[]) => {
    const { data } = unmixed(raster, cleared, { color, drawnColors, halvedChroma: true });
    let sum = 0;
    let count = 0;
    for (let y = 32; y < 37; y++)
      for (let x = 30; x < 60; x++) {
        sum += data[(y * SIDE + x) * 4 + 3]!;
        count++;
      }
    return sum / count;
  };

  it('stays full in its darker shades, which lie toward the background from its lighter ones', () => {
    expect(meanAlpha([])).toBe(255);
  });

  it('keeps what is nearly all background among threads clear', () => {
    const { data } = unmixed(raster, cleared, { color });
    const gap = (60 * SIDE + 33) * 4 + 3;
    expect(data[gap]).toBe(0);
  });
});
