import { Kept } from './stages/kept';
import { describe, expect, it } from 'vitest';
import {
  blotches,
  disc,
  flipped,
  noise,
  outOfFocus,
  paint,
  reflecting,
  threads,
} from '../../tests/make/pictures';
import { newSample } from './cut/new-sample';
import { untouchedCut } from './cut/parse';
import type { Cut } from './cut/schema';
import type { Sample } from './stages/clear/settings';
import type { Edge } from './stages/edge/settings';
import { runToEnd } from './numeric/steps';
import { edgePart, renderCut, renderPart, renderScene } from './render';
import { alphaTable, RAMP_TOLERANCE } from './stages/clear/clear';
import { STEPS_PER_UNIT } from './stages/clear/distance';
import { CERTAIN_BACKGROUND, CERTAIN_SUBJECT, IN_EDGE } from './stages/edge/unmix';
import { halvedScene, sceneOf, type Scene } from './scene/scene';

const sample = (change: Partial<Sample> = {}): Sample =>
  newSample(change.id ?? 's1', 1, 1, { areaPx: 3, tolerance: 12, ...change });

/** Without edge estimation, so that alpha is what Clear says. */
const cutWith = (...samples: Sample[]): Cut => ({
  ...untouchedCut(),
  clear: { on: true, samples, pockets: [], marks: [], ink: null },
  edge: { ...untouchedCut().edge, on: false },
});
const shapedEdge = (cut: Cut): Cut => ({
  ...cut,
  edge: { ...untouchedCut().edge, offsetPx: -0.6, softnessPx: 3, evenness: 80, firmness: 10 },
});
const withEdge = (cut: Cut): Cut => ({ ...cut, edge: untouchedCut().edge });
const alphaOf = (data: Uint8Array) => data.filter((_value, p) => p % 4 === 3);

describe('renderCut', () => {
  it('leaves an untouched picture as it is', () => {
    const raster = blotches(20, 20, 1);
    const { raster: out, alpha } = renderCut(raster, untouchedCut());
    expect(out.data).toEqual(raster.data);
    expect(alpha).toEqual({ transparent: 0, partly: 0, opaque: 400 });
  });

  it('clears the background of a disc, keeps the disc, and leaves no color under alpha 0', () => {
    const { raster, alpha } = renderCut(disc(101, 30), cutWith(sample()));
    const at = (x: number, y: number) => [...raster.data.subarray((y * 101 + x) * 4, (y * 101 + x) * 4 + 4)];
    expect(at(2, 2)).toEqual([0, 0, 0, 0]);
    expect(at(50, 50)).toEqual([30, 30, 30, 255]);
    expect(alpha.transparent / 101 ** 2).toBeCloseTo(1 - (Math.PI * 30 ** 2) / 101 ** 2, 1);
    for (let p = 0; p < raster.data.length; p += 4) {
      if (raster.data[p + 3] === 0)
        expect(raster.data[p]! + raster.data[p + 1]! + raster.data[p + 2]!).toBe(0);
    }
  });

  it('clears more with every rise of tolerance', () => {
    const raster = blotches(50, 40, 3);
    let last = alphaOf(renderCut(raster, cutWith(sample({ tolerance: 0 }))).raster.data);
    for (const tolerance of [3, 9.5, 20, 47, 100]) {
      const now = alphaOf(renderCut(raster, cutWith(sample({ tolerance }))).raster.data);
      now.forEach((value, i) => expect(value).toBeLessThanOrEqual(last[i]!));
      last = now;
    }
    expect(Math.max(...last)).toBe(0);
  });

  it('takes the smallest alpha of several samples', () => {
    const raster = blotches(50, 40, 5);
    const one = sample({ tolerance: 8 });
    const two = sample({ id: 's2', x: 40, y: 30, reach: 'everywhere', tolerance: 15 });
    const both = alphaOf(renderCut(raster, cutWith(one, two)).raster.data);
    const first = alphaOf(renderCut(raster, cutWith(one)).raster.data);
    const second = alphaOf(renderCut(raster, cutWith(two)).raster.data);
    both.forEach((value, i) => expect(value).toBe(Math.min(first[i]!, second[i]!)));
  });

  it('obeys the switches of a sample and of the stage', () => {
    const raster = disc(41, 10);
    expect(renderCut(raster, cutWith(sample({ on: false }))).alpha.transparent).toBe(0);
    const off = cutWith(sample());
    expect(renderCut(raster, { ...off, clear: { ...off.clear, on: false } }).alpha.transparent).toBe(0);
  });

  it('obeys the reach: an enclosed patch stays with joined and goes with everywhere', () => {
    const ring = paint(31, 31, (x, y) => {
      const far = Math.hypot(x - 15, y - 15);
      return far > 6 && far < 11 ? [20, 20, 20] : [255, 255, 255];
    });
    const middle = (15 * 31 + 15) * 4 + 3;
    expect(renderCut(ring, cutWith(sample())).raster.data[middle]).toBe(255);
    expect(renderCut(ring, cutWith(sample({ reach: 'everywhere' }))).raster.data[middle]).toBe(0);
  });

  it('multiplies with the alpha a picture came with', () => {
    const raster = paint(10, 1, (x) => (x < 5 ? [255, 255, 255, 128] : [0, 0, 0, 128]));
    const { raster: out } = renderCut(raster, cutWith(sample({ x: 0, y: 0, areaPx: 1 })));
    expect([...alphaOf(out.data)]).toEqual([0, 0, 0, 0, 0, 128, 128, 128, 128, 128]);
  });

  it('flips with the picture', () => {
    const raster = blotches(45, 33, 8);
    const there = renderCut(raster, cutWith(sample({ x: 7, y: 9 })));
    const back = renderCut(flipped(raster), cutWith(sample({ x: 37, y: 9 })));
    expect(flipped(back.raster).data).toEqual(there.raster.data);
  });

  it('stops when it is cancelled, and says so', () => {
    expect(() => renderCut(disc(41, 10), cutWith(sample()), { cancel: { aborted: true } })).toThrow(
      /cancelled/,
    );
  });
});

describe('renderPart', () => {
  it.each([
    ['without edge estimation', (cut: Cut) => cut],
    ['with edge estimation', withEdge],
    ['with a shaped edge', (cut: Cut) => shapedEdge(cut)],
  ])('equals the same part of the whole, and is null while a map is missing, %s', (_name, edge) => {
    const raster = blotches(60, 50, 6);
    const cut = edge(cutWith(sample(), sample({ id: 's2', x: 50, y: 40, tolerance: 20 })));
    const kept = new Kept(0);
    const rect = { x: 13, y: 7, width: 20, height: 30 };
    expect(renderPart(sceneOf(raster), cut, kept, rect)).toBeNull();
    const whole = runToEnd(renderScene(sceneOf(raster), cut, kept)).raster;
    const part = renderPart(sceneOf(raster), cut, kept, rect)!;
    for (let y = 0; y < 30; y++) {
      const start = ((y + 7) * 60 + 13) * 4;
      expect(part.data.subarray(y * 80, y * 80 + 80)).toEqual(whole.data.subarray(start, start + 80));
    }
  });
});

describe('what is kept', () => {
  /** A disc with a shine, a grain beside it and residue around it, so that every stage has something to do. */
  const picture = paint(90, 70, (x, y) => {
    const far = Math.hypot(x - 42, y - 36);
    if (Math.hypot(x - 78, y - 12) < 2) return [120, 40, 40];
    if (far < 20) return [60 + x, 90, 140 - y];
    return far < 24 ? [200 + (x % 3), 190, 180] : [236, 233, 228];
  });
  const start = withEdge(cutWith(sample({ tolerance: 14 })));
  const mends: Cut['touchUp']['mends'] = [
    { mend: 'speck', x: 78, y: 12, reachPx: 6 },
    { mend: 'residue', x: 42, y: 36, reachPx: 40, alpha: 20 },
    { mend: 'halo', x: 42, y: 36, reachPx: 40, background: '#ece9e4' },
  ];
  const changes: readonly (readonly [string, (cut: Cut) => Cut])[] = [
    ['another color', (cut) => ({ ...cut, ink: { ...cut.ink, color: '#1d2a6b' } })],
    ['density', (cut) => ({ ...cut, ink: { ...cut.ink, density: 60 } })],
    ['its own colors', (cut) => ({ ...cut, ink: { ...cut.ink, color: null } })],
    ['mends', (cut) => ({ ...cut, touchUp: { ...untouchedCut().touchUp, mends } })],
    ['fewer mends', (cut) => ({ ...cut, touchUp: { ...cut.touchUp, mends: mends.slice(0, 1) } })],
    ['a softer edge', (cut) => ({ ...cut, edge: { ...cut.edge, softnessPx: 2.5 } })],
    [
      'an edge softer than its distance is measured',
      (cut) => ({ ...cut, edge: { ...cut.edge, softnessPx: 26 } }),
    ],
    ['an edge farther in', (cut) => ({ ...cut, edge: { ...cut.edge, softnessPx: 0, offsetPx: -0.6 } })],
    ['no edge', (cut) => ({ ...cut, edge: { ...cut.edge, on: false } })],
    ['an edge', (cut) => ({ ...cut, edge: { ...cut.edge, on: true } })],
    ['another tolerance', (cut) => withSample(cut, { tolerance: 20 })],
    ['no ink', (cut) => ({ ...cut, ink: { ...cut.ink, on: false } })],
    ['the first again', () => start],
  ];
  const withSample = (cut: Cut, change: Partial<Sample>): Cut => ({
    ...cut,
    clear: { ...cut.clear, samples: cut.clear.samples.map((one) => ({ ...one, ...change })) },
  });

  it.each([{ softnessPx: 26 }, { offsetPx: -0.6 }, { offsetPx: 3, softnessPx: 9 }])(
    'is gone on from where it was the finished cutout, with nothing under alpha 0: %j',
    (change) => {
      const [scene, kept] = [sceneOf(picture), Kept.of(picture)];
      runToEnd(renderScene(scene, start, kept));
      const cut = { ...start, edge: { ...start.edge, ...change } };
      const fresh = runToEnd(renderScene(sceneOf(picture), cut, new Kept(0)));
      expect(Buffer.compare(runToEnd(renderScene(scene, cut, kept)).raster.data, fresh.raster.data)).toBe(0);
    },
  );

  it.each([[Kept.of(picture)], [new Kept(90 * 70 * 4)], [new Kept(0)]])(
    'makes no difference, whatever is changed one after another (case %#)',
    (kept) => {
      const scene = sceneOf(picture);
      let cut = start;
      for (const [, change] of [...changes, ...changes.toReversed(), ...changes]) {
        cut = change(cut);
        const fresh = runToEnd(renderScene(sceneOf(picture), cut, new Kept(0)));
        const part = { x: 30, y: 20, width: 40, height: 31 };
        const draft = renderPart(scene, cut, kept, part);
        const found = runToEnd(renderScene(scene, cut, kept));
        expect(Buffer.compare(found.raster.data, fresh.raster.data)).toBe(0);
        expect(found.alpha).toEqual(fresh.alpha);
        expect(found.alike).toEqual(fresh.alike);
        expect(kept.bytes).toBeLessThanOrEqual(kept.mostBytes);
        const after = renderPart(scene, cut, kept, part)!;
        for (const one of draft ? [draft, after] : [after])
          for (let y = 0; y < part.height; y++) {
            const from = ((part.y + y) * 90 + part.x) * 4;
            const row = one.data.subarray(y * part.width * 4, (y + 1) * part.width * 4);
            expect(Buffer.compare(row, fresh.raster.data.subarray(from, from + part.width * 4))).toBe(0);
          }
      }
    },
  );

  it('is the same picture when a cut comes back', () => {
    const scene = sceneOf(picture);
    const kept = Kept.of(picture);
    const first = runToEnd(renderScene(scene, start, kept));
    runToEnd(renderScene(scene, changes[0]![1](start), kept));
    expect(runToEnd(renderScene(scene, start, kept)).raster).toBe(first.raster);
  });
});

describe('specks', () => {
  /** Gray paper with grains and a line a pixel wide, all of a color a little beyond the tolerance. */
  const marked = paint(80, 60, (x, y) => {
    const line = x === 40 && y > 10 && y < 50;
    const grain = (x % 16 === 4 && y % 16 === 4) || (x % 16 === 5 && y % 16 === 4);
    return line || (grain && x < 30) ? [190, 184, 176] : [226, 226, 226];
  });

  it('are cleared, thin lines of the same color are not', () => {
    const out = runToEnd(
      renderScene(sceneOf(marked), withEdge(cutWith(sample({ tolerance: 10 }))), new Kept(0)),
    ).raster;
    const alphaAt = (x: number, y: number) => out.data[(y * 80 + x) * 4 + 3]!;
    for (const [x, y] of [
      [4, 20],
      [20, 36],
      [21, 36],
    ] as const)
      expect(alphaAt(x, y)).toBe(0);
    for (let y = 14; y < 46; y++) expect(alphaAt(40, y), `${y}`).toBe(255);
  });
});

describe('edgePart', () => {
  const raster = disc(101, 30);
  const marksOf = (cut: Cut) => {
    const kept = new Kept(0);
    const scene = sceneOf(raster);
    const rect = { x: 0, y: 0, width: 101, height: 101 };
    expect(edgePart(scene, cut, kept, rect)).toBeNull();
    runToEnd(renderScene(scene, cut, kept));
    return edgePart(scene, cut, kept, rect)!;
  };
  const widthAt50 = (marks: Uint8Array) =>
    marks.subarray(50 * 101, 50 * 101 + 50).filter((mark) => mark === IN_EDGE).length;

  it('tells certain subject, certain background and the edge between', () => {
    const marks = marksOf(withEdge(cutWith(sample())));
    expect(marks[2 * 101 + 2]).toBe(CERTAIN_BACKGROUND);
    expect(marks[50 * 101 + 50]).toBe(CERTAIN_SUBJECT);
    expect(widthAt50(marks)).toBeGreaterThanOrEqual(2);
    expect(widthAt50(marks)).toBeLessThanOrEqual(4);
  });

  it('widens with the width that is set and with strokes over fine detail, and is empty where Edge is off', () => {
    const cut = withEdge(cutWith(sample()));
    const wide = widthAt50(marksOf({ ...cut, edge: { ...cut.edge, widthPx: 7 } }));
    expect(wide).toBeGreaterThanOrEqual(14);
    expect(wide).toBeLessThanOrEqual(15);
    const fineDetail = [{ radiusPx: 6, points: [[50.5, 50.5] as [number, number]] }];
    const painted = marksOf({ ...cut, edge: { ...cut.edge, fineDetail } });
    expect([...painted.subarray(50 * 101 + 43, 50 * 101 + 58)]).toEqual([
      CERTAIN_SUBJECT,
      ...Array.from({ length: 13 }, () => IN_EDGE),
      CERTAIN_SUBJECT,
    ]);
    expect(widthAt50(marksOf(cutWith(sample())))).toBe(0);
  });
});

describe('a scene of reduced size', () => {
  it('clears about the same share with the original’s sample color', () => {
    const original = disc(401, 120);
    const cut = withEdge(cutWith(sample({ x: 5, y: 5, areaPx: 9 })));
    const full = renderCut(original, cut).alpha.transparent / 401 ** 2;
    const small = halvedScene(sceneOf(original), 2);
    const reduced = runToEnd(renderScene(small, cut, new Kept(0)));
    expect(reduced.alpha.transparent / (small.raster.width * small.raster.height)).toBeCloseTo(full, 1);
  });
});

describe('alphaTable', () => {
  it('is 0 up to the tolerance and rises in a straight line over the ramp', () => {
    const table = alphaTable(10);
    expect(table[10 * STEPS_PER_UNIT]).toBe(0);
    expect(table[(10 + RAMP_TOLERANCE / 2) * STEPS_PER_UNIT]).toBe(128);
    expect(table[(10 + RAMP_TOLERANCE) * STEPS_PER_UNIT]).toBe(255);
  });
});

describe('pockets', () => {
  const ring = paint(61, 61, (x, y) => {
    const far = Math.hypot(x - 30, y - 30);
    return far > 12 && far < 22 ? [20, 20, 20] : [255, 255, 255];
  });
  const middle = (30 * 61 + 30) * 4 + 3;
  const decided = (keep: boolean, change: Partial<Sample> = {}): Cut => {
    const cut = withEdge(cutWith(sample(change)));
    return { ...cut, clear: { ...cut.clear, pockets: [{ x: 28, y: 31, keep }] } };
  };

  it('go when they were decided to be cleared, and stay while nothing was decided', () => {
    expect(renderCut(ring, withEdge(cutWith(sample()))).raster.data[middle]).toBe(255);
    expect(renderCut(ring, decided(false)).raster.data[middle]).toBe(0);
  });

  it('stay when they were decided to be kept, though the sample reaches everywhere and at other tolerances', () => {
    for (const tolerance of [4, 12, 30]) {
      const { raster } = renderCut(ring, decided(true, { reach: 'everywhere', tolerance }));
      expect(raster.data[middle]).toBe(255);
      expect(raster.data[3]).toBe(0);
    }
  });

  it('cannot keep what is joined to the sample', () => {
    const open = decided(true, { reach: 'everywhere' });
    const outside = { ...open, clear: { ...open.clear, pockets: [{ x: 3, y: 3, keep: true }] } };
    expect(renderCut(ring, outside).raster.data[3]).toBe(0);
  });
});

/** Parts of a picture 190 px wide are the same rows as those of the whole. */
function expectSameInParts(scene: Scene, cut: Cut, kept: Kept, whole: Buffer): void {
  const { width } = scene.raster;
  const scale = width / 190;
  for (const [x, y, wide, high] of [
    [61, 0, 50, 40],
    [0, 70, 190, 9],
    [87, 93, 31, 64],
    [133, 41, 1, 1],
    [20, 110, 33, 12],
  ].map((parts) => parts.map((value) => Math.floor(value * scale))) as [number, number, number, number][]) {
    const rect = { x, y, width: wide, height: high };
    const part = renderPart(scene, cut, kept, rect)!;
    for (let row = 0; row < high; row++) {
      const from = ((y + row) * width + x) * 4;
      const bytes = Buffer.from(part.data.subarray(row * wide * 4, (row + 1) * wide * 4));
      expect(
        bytes.equals(whole.subarray(from, from + wide * 4)),
        `row ${row} of ${JSON.stringify(rect)}`,
      ).toBe(true);
    }
  }
}

describe('backdrops', () => {
  const disc2 = (x: number, y: number) => Math.hypot(x - 80, y - 60) < 30;
  const clearedShare = (raster: ReturnType<typeof paint>, change: Partial<Sample>) => {
    const { data } = renderCut(raster, cutWith(sample(change))).raster;
    let right = 0;
    for (let i = 0; i < raster.width * raster.height; i++) {
      const there = disc2(i % raster.width, Math.floor(i / raster.width));
      if (there === data[i * 4 + 3]! > 127) right++;
    }
    return right / (raster.width * raster.height);
  };

  it('that change smoothly are cleared at a small tolerance when they are modelled', () => {
    const slope = paint(160, 120, (x, y) =>
      disc2(x, y) ? [150, 40, 60] : [120 + x * 0.8, 140 + y * 0.5, 220 - x * 0.4],
    );
    const stretch = { to: { x: 158, y: 1 }, tolerance: 4 };
    expect(clearedShare(slope, { ...stretch, backdrop: 'smooth' })).toBeGreaterThan(0.99);
    expect(clearedShare(slope, { ...stretch, backdrop: 'flat' })).toBeLessThan(0.8);
  });

  it('with a shadow are cleared with a shade allowance, and a gray subject is not', () => {
    const shadow = paint(160, 120, (x, y) => {
      const dark = 90 * Math.exp(-(((x - 80) / 50) ** 2) - ((y - 95) / 14) ** 2);
      return disc2(x, y) ? [120, 120, 120] : [245 - dark, 245 - dark, 245 - dark];
    });
    expect(clearedShare(shadow, { tolerance: 8 })).toBeLessThan(0.93);
    expect(clearedShare(shadow, { tolerance: 8, shade: { darker: 45, lighter: 0 } })).toBeGreaterThan(0.985);
  });

  it('with a painted-in checkerboard are cleared cell by cell, though cells are not whole pixels', () => {
    const cell = 7.37;
    const pattern = paint(160, 120, (x, y) => {
      if (disc2(x, y)) return [200, 60, 40];
      const tone = (Math.floor((x + 0.5) / cell) + Math.floor((y + 0.5) / cell)) % 2 ? 204 : 255;
      return [tone, tone, tone];
    });
    expect(clearedShare(pattern, { tolerance: 9, backdrop: 'checkerboard' })).toBeGreaterThan(0.98);
    expect(clearedShare(pattern, { tolerance: 9, backdrop: 'flat' })).toBeLessThan(0.8);
  });

  it.each([
    ['threads', threads(190, 0)],
    ['threads with grain', threads(190, 9)],
    ['threads whose ends fade out far from the rest', threads(420, 4, 9)],
    ['what is out of focus', outOfFocus(190, 0)],
    ['what is out of focus, with grain', outOfFocus(190, 6)],
    ['what reflects its backdrop', reflecting(190, 5)],
    ['threads with a width set by hand', threads(190, 9), { widthPx: 9 }],
    ['what is out of focus with a width set by hand', outOfFocus(190, 6), { widthPx: 12 }],
    [
      'threads with strokes over fine detail',
      threads(190, 9),
      {
        fineDetail: [
          { radiusPx: 9, points: [[20, 60] as [number, number], [150, 100] as [number, number]] },
          { radiusPx: 14.5, points: [[80.2, 40] as [number, number]] },
        ],
      },
    ],
  ])(
    'makes the same bytes of %s in parts, and whatever was made before',
    (_name, raster, change: Partial<Edge> = {}) => {
      const untouched = untouchedCut();
      const cut: Cut = {
        ...untouched,
        clear: {
          on: true,
          samples: [newSample('s1', 4, 180, { tolerance: 12 })],
          pockets: [],
          marks: [],
          ink: null,
        },
        edge: { ...untouched.edge, ...change },
      };
      const kept = new Kept(0);
      const scene = sceneOf(raster);
      const whole = Buffer.from(runToEnd(renderScene(scene, cut, kept)).raster.data);
      for (const other of [threads(230, 30, 7), noise(200, 200)]) {
        renderCut(other, cut);
        expect(Buffer.from(renderCut(raster, cut).raster.data).equals(whole)).toBe(true);
      }
      expectSameInParts(scene, cut, kept, whole);
    },
  );

  it.each([
    ['threads', threads(380, 9)],
    ['what reflects its backdrop', reflecting(380, 5, 7)],
  ])('makes the same bytes of %s in parts at half the size', (_name, raster) => {
    const samples = [newSample('s1', 8, 360, { tolerance: 12 })];
    const cut: Cut = { ...untouchedCut(), clear: { on: true, samples, pockets: [], marks: [], ink: null } };
    const kept = new Kept(0);
    const scene = halvedScene(sceneOf(raster));
    const whole = Buffer.from(runToEnd(renderScene(scene, cut, kept)).raster.data);
    expectSameInParts(scene, cut, kept, whole);
  });
});
