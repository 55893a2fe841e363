import { wcagContrast } from 'culori';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numeric/random';
import { createRaster, type Raster } from '../raster/raster';
import { drawMark } from './draw-mark';
import { grown, veilOf } from './mark-effects';
import { FIRST_LOOK, FIRST_PLACE, groupOf, newText, newWatermark } from './first-watermarks';
import { contrastOn, edgeOfMark } from './mark-contrast';
import { laidMark, type MarkMaterial } from './layout';
import { markPhoto } from './mark-photo';
import { placedMark } from './place-mark';
import { orientedView, smallLight, viewOf } from './photo-view';
import { PATH } from './shaped';
import type { MarkLook, MarkPlace, Watermark } from './settings';

/** A ring with a foot: a shape with edges in all directions, and lopsided, so that turning it is seen. */
const LETTER = {
  path: [
    ...[
      PATH.move,
      0.1,
      0,
      PATH.line,
      0.9,
      0,
      PATH.line,
      0.9,
      0.2,
      PATH.line,
      0.6,
      0.2,
      PATH.cubic,
      1,
      0.6,
      0.8,
      1,
    ],
    ...[0.5, 1, PATH.cubic, 0.1, 1, 0, 0.6, 0.35, 0.2, PATH.line, 0.1, 0.2, PATH.close],
  ],
  advance: 1,
  dx: 0,
  dy: 0,
};

const MATERIAL: MarkMaterial = {
  lines: new Map([['t1', [{ glyphs: Array.from({ length: 6 }, () => LETTER) }]]]),
  cutouts: new Map(),
};

function watermark(look: Partial<MarkLook> = {}, place: Partial<MarkPlace> = {}): Watermark {
  return newWatermark('a mark', [groupOf([newText('t1', 'abcdef')])], {
    look: { ...FIRST_LOOK, ...look },
    place: { ...FIRST_PLACE, ...place },
  });
}

/** A photo whose pixels are made by a rule. */
function photo(width: number, height: number, color: (x: number, y: number) => readonly number[]): Raster {
  const out = createRaster(width, height);
  for (let i = 0; i < width * height; i++) {
    const [red = 0, green = 0, blue = 0] = color(i % width, Math.floor(i / width));
    out.data.set([red, green, blue, 255], i * 4);
  }
  return out;
}

const noisy = (seed: number, low: number, high: number) => {
  const random = seededRandom(seed);
  return () => [0, 1, 2].map(() => Math.round(low + (high - low) * random()));
};

const copyOf = ({ width, height, data }: Raster) => createRaster(width, height, new Uint8Array(data));

const marked = (source: Raster, own: Watermark) => {
  const out = copyOf(source);
  return { out, report: markPhoto(viewOf(out), own, MATERIAL) };
};

/** Where pixels differ: the box around them, and how many there are. */
function changesOf(one: Raster, other: Raster) {
  const found = { left: one.width, top: one.height, right: -1, bottom: -1, count: 0 };
  for (let i = 0; i < one.width * one.height; i++) {
    if ([0, 1, 2, 3].every((c) => one.data[i * 4 + c] === other.data[i * 4 + c])) continue;
    const [x, y] = [i % one.width, Math.floor(i / one.width)];
    found.left = Math.min(found.left, x);
    found.right = Math.max(found.right, x);
    found.top = Math.min(found.top, y);
    found.bottom = Math.max(found.bottom, y);
    found.count++;
  }
  return found;
}

describe('light or dark', () => {
  it('takes the version that can be read', () => {
    const on = (level: number) =>
      marked(
        photo(300, 200, () => [level, level, level]),
        watermark(),
      ).report.copies[0]!;
    expect(on(20)).toMatchObject({ version: 'light', veil: 0 });
    expect(on(240)).toMatchObject({ version: 'dark', veil: 0 });
  });

  it('has the contrast that a color library computes of its own color and the ground', () => {
    const ground = photo(300, 200, () => [90, 110, 130]);
    const { report } = marked(
      ground,
      watermark({ opacity: 100, contrast: { least: 1, most: 0 }, version: 'light' }),
    );
    expect(report.contrast).toBeCloseTo(wcagContrast('#ffffff', '#5a6e82'), 0);
  });

  it.each([
    ['a wanted light mark on white', 250, 255, 'light'],
    ['a wanted dark mark on black', 0, 6, 'dark'],
    ['noise of all levels', 0, 255, 'auto'],
    ['middle gray', 115, 135, 'auto'],
  ] as const)('darkens or lightens as far as needed: %s', (_, low, high, version) => {
    const source = photo(400, 300, noisy(7, low, high));
    for (const least of [1.5, 2.5, 4]) {
      const { report } = marked(source, watermark({ version, opacity: 60, contrast: { least, most: 80 } }));
      expect(report.contrast, `contrast ${least}`).toBeGreaterThanOrEqual(least);
      expect(report.remarks).toEqual([]);
    }
  });

  it('goes no farther: a little less veil would be too little', () => {
    const source = photo(400, 300, () => [200, 205, 210]);
    const own = watermark({ version: 'light', contrast: { least: 2.5, most: 100 } });
    const { report } = marked(source, own);
    const [seen] = report.copies as [(typeof report.copies)[number]];
    expect(seen.veil).toBeGreaterThan(0.05);
    const laid = laidMark(own, MATERIAL);
    const view = viewOf(source);
    const { unitPx, middles } = placedMark(laid, own.look, own.place, source, null);
    const mark = drawMark(laid, own.look, { unitPx, angleDeg: 0, mostVeilPx: Infinity });
    const at = { x: Math.round(middles[0]!.x) + mark.left, y: Math.round(middles[0]!.y) + mark.top };
    const less = contrastOn(view, mark, edgeOfMark(mark), at, { ...seen, veil: seen.veil - 0.03 }, 'normal');
    expect(less!.most).toBeLessThan(2.5);
  });

  it('makes the mark more opaque where darkening is not enough, and says where nothing is', () => {
    const white = photo(300, 200, () => [255, 255, 255]);
    const faint = marked(
      white,
      watermark({ version: 'light', opacity: 10, contrast: { least: 3, most: 70 } }),
    );
    expect(faint.report.contrast).toBeGreaterThanOrEqual(3);
    expect(faint.report.copies[0]!.opacity).toBeGreaterThan(0.1);
    const gray = watermark({ version: 'light', light: '#757575', contrast: { least: 5, most: 70 } });
    expect(marked(white, gray).report.remarks[0]).toMatch(/too near to both black and white/);
  });
});

describe('what is changed', () => {
  const source = photo(400, 260, noisy(3, 60, 200));

  it('is nothing outside of the region of the mark, and no more than is said', () => {
    const { out, report } = marked(source, watermark({}, { anchor: 'top-left' }));
    const changes = changesOf(source, out);
    expect(changes.count).toBe(Math.round(report.changed * 400 * 260));
    expect(changes.right).toBeLessThan(260);
    expect(changes.bottom).toBeLessThan(130);
  });

  it('is at most the share that is set, the mark being smaller for it', () => {
    for (const mostShare of [2, 6, 15]) {
      const { report } = marked(source, watermark({}, { mostShare, size: { of: 'width', percent: 90 } }));
      expect(100 * report.changed).toBeLessThanOrEqual(mostShare);
      expect(report.remarks.some((remark) => remark.includes('made smaller'))).toBe(true);
    }
    const tiles = { across: 20, down: 20, stagger: 50 };
    const { report } = marked(source, watermark({}, { tiled: tiles, mostShare: 30 }));
    expect(report.changed).toBeLessThanOrEqual(0.3);
    expect(report.copies.length).toBeGreaterThan(1);
  });

  it('is the same on a mirrored photo with a mirrored place, but for the letters', () => {
    const even = photo(400, 260, () => [120, 130, 140]);
    const boxOf = (anchor: MarkPlace['anchor']) => {
      const { left, top, right, bottom } = changesOf(even, marked(even, watermark({}, { anchor })).out);
      return { left, top, right, bottom };
    };
    const near = boxOf('top-left');
    const far = boxOf('bottom-right');
    expect(Math.abs(far.right - (399 - near.left))).toBeLessThanOrEqual(1);
    expect(Math.abs(far.bottom - (259 - near.top))).toBeLessThanOrEqual(1);
  });

  it.each([
    ['width', 400],
    ['shorter', 260],
  ] as const)('has the width that its rule says: of %s', (of, side) => {
    const even = photo(400, 260, () => [0, 0, 0]);
    const own = watermark({ opacity: 100 }, { size: { of, percent: 30 }, inset: 10 });
    const { left, right, bottom } = changesOf(even, marked(even, own).out);
    expect(Math.abs(right - left + 1 - 0.3 * side)).toBeLessThanOrEqual(8);
    expect(Math.abs(399 - right - 26)).toBeLessThanOrEqual(5);
    expect(Math.abs(259 - bottom - 26)).toBeLessThanOrEqual(2);
  });

  it('never lies beyond its insets, however large it is wished', () => {
    const even = photo(300, 80, () => [0, 0, 0]);
    const own = watermark({}, { size: { of: 'height', percent: 100 }, inset: 10, mostShare: 100 });
    const { left, top, right, bottom } = changesOf(even, marked(even, own).out);
    expect([left, top, 299 - right, 79 - bottom].every((room) => room >= 6)).toBe(true);
  });

  it('stands elsewhere on portraits where that is set', () => {
    const own = {
      ...watermark({}, { anchor: 'top-left' }),
      portrait: { ...FIRST_PLACE, anchor: 'bottom' as const },
    };
    const wide = photo(300, 200, () => [0, 0, 0]);
    const high = photo(200, 300, () => [0, 0, 0]);
    expect(changesOf(wide, marked(wide, own).out).bottom).toBeLessThan(100);
    expect(changesOf(high, marked(high, own).out).top).toBeGreaterThan(200);
  });

  it('refuses a mark without anything in it, and a photo that is too small', () => {
    expect(() => marked(source, newWatermark('empty', []))).toThrow(/nothing to be seen/);
    expect(() =>
      marked(
        photo(4, 3, () => [0, 0, 0]),
        watermark(),
      ),
    ).toThrow(/4 x 3 pixels is too small/);
    expect(
      marked(
        photo(150, 100, () => [0, 0, 0]),
        watermark(),
      ).report.remarks[0],
    ).toMatch(/too small to be read/);
  });
});

describe('a quiet place', () => {
  it('is where the photo is calm, near the corner', () => {
    const random = seededRandom(5);
    // Restless in the lower right, calm to the left of it.
    const source = photo(600, 400, (x, y) => {
      const level = x > 360 && y > 200 ? 40 + 170 * random() : 120;
      return [level, level, level];
    });
    const still = changesOf(source, marked(source, watermark({}, { mostShare: 100 })).out);
    const quiet = changesOf(source, marked(source, watermark({}, { quiet: true, mostShare: 100 })).out);
    expect(still.right).toBeGreaterThan(500);
    expect(quiet.right < 400 || quiet.bottom < 240).toBe(true);
  });

  it('is the corner itself where all is alike', () => {
    const even = photo(400, 260, () => [80, 80, 80]);
    const quiet = marked(even, watermark({}, { quiet: true })).out;
    expect(changesOf(quiet, marked(even, watermark()).out).count).toBe(0);
  });
});

describe('drawing', () => {
  const laid = laidMark(watermark(), MATERIAL);

  it('turned by a quarter is the same, turned', () => {
    const drawing = { unitPx: 0.4, mostVeilPx: Infinity };
    const upright = drawMark(laid, FIRST_LOOK, { ...drawing, angleDeg: 0 });
    const turned = drawMark(laid, FIRST_LOOK, { ...drawing, angleDeg: 90 });
    const sum = ({ face }: typeof upright) =>
      face.light.data.reduce((all, value, p) => (p % 4 === 3 ? all + value : all), 0);
    expect(Math.abs(sum(turned) - sum(upright)) / sum(upright)).toBeLessThan(0.01);
    expect(Math.abs(turned.width - upright.height)).toBeLessThanOrEqual(2);
  });

  it('lays an outline, a shadow and a plate under the letters, in the color of the other version', () => {
    const look: MarkLook = {
      ...FIRST_LOOK,
      outline: { width: 6, color: null },
      shadow: { x: 10, y: 10, blur: 6, opacity: 80, color: '#ff0000' },
      plate: { color: '#00ff00', opacity: 50, room: 30, corner: 10 },
    };
    const mark = drawMark(laid, look, { unitPx: 0.5, angleDeg: 0, mostVeilPx: 20 });
    const colors = new Set<string>();
    const { data } = mark.under!.light;
    for (let p = 0; p < data.length; p += 4)
      if (data[p + 3]! > 0) colors.add([data[p], data[p + 1], data[p + 2]].join());
    expect(colors.has('22,22,22')).toBe(true);
    expect(colors.has('0,255,0')).toBe(true);
    expect(
      [...colors].some((color) => Number(color.split(',')[0]) > 120 && Number(color.split(',')[1]) < 140),
    ).toBe(true);
  });

  it('grows alpha as a slow search does', () => {
    const random = seededRandom(11);
    const width = 40;
    const data = Uint8Array.from({ length: width * width }, () => (random() > 0.97 ? 255 : 0));
    const own = grown({ data, width, height: width }, 3);
    for (let i = 0; i < data.length; i++) {
      let nearest = Infinity;
      for (let j = 0; j < data.length; j++)
        if (data[j] === 255)
          nearest = Math.min(
            nearest,
            Math.hypot((i % width) - (j % width), Math.floor(i / width) - Math.floor(j / width)),
          );
      const share = nearest === 0 ? 1 : Math.min(1, Math.max(0, 3 + 0.5 - (nearest - 0.5)));
      expect(own.data[i], `pixel ${i}`).toBe(Math.round(255 * share));
    }
  });

  it('makes a veil that is whole at the mark, falls off, and ends at its reach', () => {
    const width = 161;
    const data = new Uint8Array(width * width);
    data[80 * width + 80] = 255;
    const veil = veilOf({ data, width, height: width }, 40);
    const at = (far: number) => veil.data[80 * width + 80 + far]!;
    expect(at(0)).toBeGreaterThan(250);
    expect(at(4)).toBeGreaterThan(245);
    for (let far = 8; far < 60; far++) expect(at(far)).toBeLessThanOrEqual(at(far - 1) + 1);
    expect(at(44)).toBe(0);
  });
});

describe('a photo as it is stored', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('is marked as it is seen (orientation %i)', (orientation) => {
    const seen = photo(240, 160, noisy(9, 40, 220));
    const isAside = orientation > 4;
    const [width, height] = isAside ? [160, 240] : [240, 160];
    const store = new Uint8Array(width * height * 3);
    const view = orientedView(store, width, height, 3, orientation);
    expect([view.width, view.height]).toEqual([240, 160]);
    const each = (work: (p: number, q: number) => void) => {
      for (let y = 0; y < 160; y++)
        for (let x = 0; x < 240; x++)
          for (let c = 0; c < 3; c++)
            work(view.origin + x * view.stepX + y * view.stepY + c, (y * 240 + x) * 4 + c);
    };
    each((p, q) => (store[p] = seen.data[q]!));
    markPhoto(view, watermark({}, { quiet: true }), MATERIAL);
    const { out } = marked(seen, watermark({}, { quiet: true }));
    each((p, q) => {
      if (store[p] !== out.data[q]) throw new Error(`${p} differs`);
    });
  });

  it('is the same in three channels as in four', () => {
    for (const least of [1, 4]) {
      const seen = photo(240, 160, noisy(13, 90, 200));
      const own = watermark({ version: 'light', opacity: 70, contrast: { least, most: 80 } });
      const { out } = marked(seen, own);
      const three = new Uint8Array(240 * 160 * 3);
      for (let i = 0; i < 240 * 160; i++) three.set(seen.data.subarray(i * 4, i * 4 + 3), i * 3);
      const report = markPhoto(orientedView(three, 240, 160, 3, 1), own, MATERIAL);
      expect(report.copies[0]!.veil > 0).toBe(least > 1);
      for (let i = 0; i < 240 * 160; i++)
        for (let c = 0; c < 3; c++)
          if (three[i * 3 + c] !== out.data[i * 4 + c]) throw new Error(`pixel ${i} differs`);
    }
  });

  it('is made small by means of squares', () => {
    const light = smallLight(viewOf(photo(8, 4, (x) => (x < 4 ? [0, 0, 0] : [255, 255, 255]))), 2);
    expect([light.width, light.height]).toEqual([2, 1]);
    expect([...light.data]).toEqual([0, 255]);
  });

  it('keeps what is clear clear, and shows the mark on it', () => {
    const clear = createRaster(300, 200);
    const { out } = marked(clear, watermark({ version: 'dark', contrast: { least: 1, most: 0 } }));
    const alphas = new Set([...out.data].filter((_, p) => p % 4 === 3));
    expect(alphas.has(0)).toBe(true);
    expect(Math.max(...alphas)).toBe(Math.round(255 * 0.85));
  });
});
