import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { describeChange } from './describe';
import { newSample } from './new-sample';
import { parseCut, parseCutText, untouchedCut } from './parse';
import type { Cut } from './schema';
import type { Sample } from '../stages/clear/settings';
import { AS_NAMED } from '../stages/deliver/settings';

const sample: Sample = newSample('s1', 4, 5, { tolerance: 12.5 });
const cut: Cut = {
  ...untouchedCut(),
  clear: { on: true, samples: [sample], pockets: [], marks: [], ink: null },
};
const withSample = (change: object) => ({
  ...cut,
  clear: { on: true, samples: [{ ...sample, ...change }], pockets: [], marks: [], ink: null },
});
const withMark = (change: object) => ({
  ...cut,
  clear: { ...cut.clear, marks: [{ goes: true, radiusPx: 4, points: [[3, 4]], ...change }] },
});
const withEdge = (change: object) => ({ ...cut, edge: { ...cut.edge, ...change } });

const withStroke = (change: object) =>
  withEdge({ fineDetail: [{ radiusPx: 5, points: [[1, 2.5]], ...change }] });

/** A cut as it was before there were pages and several files. */
const { page, ...unpaged } = cut;
const olderCut = { ...unpaged, deliver: { fileName: null, print: null } };

/** As samples were before the whole picture could decide, and clearing before there were marks. */
const olderSample: Partial<Sample> = { ...sample };
delete olderSample.rule;
const olderClear: Partial<Record<keyof Cut['clear'], unknown>> = { ...cut.clear, samples: [olderSample] };
delete olderClear.marks;

describe('parseCut', () => {
  it('reads a cut of version 1 as one whose edge is as it is found', () => {
    expect(parseCut({ ...olderCut, version: 1, clear: olderClear, edge: { on: false } })).toEqual(
      withEdge({ on: false }),
    );
  });

  it('reads a cut of version 2 with its shaping', () => {
    const shaping = { offsetPx: -0.5, softnessPx: 2, evenness: 40, firmness: 10 };
    expect(parseCut({ ...olderCut, version: 2, clear: olderClear, edge: { on: true, ...shaping } })).toEqual(
      withEdge(shaping),
    );
  });

  it('reads a cut of version 3 as one that is not prepared, read by ink or inked', () => {
    const older = {
      format: cut.format,
      version: 3,
      clear: { on: cut.clear.on, samples: [olderSample], pockets: cut.clear.pockets },
      edge: cut.edge,
      deliver: { fileName: null },
    };
    expect(parseCut(older)).toEqual(cut);
  });

  it('reads a cut of version 4 as one with nothing mended and nothing dismissed', () => {
    const { format, prepare, edge, ink } = cut;
    const older = {
      format,
      version: 4,
      prepare,
      clear: olderClear,
      edge,
      ink,
      deliver: { fileName: 'a.png' },
    };
    expect(parseCut(older)).toEqual({ ...cut, deliver: { ...AS_NAMED, fileName: 'a.png', print: null } });
    expect(() => parseCut({ ...older, touchUp: cut.touchUp })).toThrow(/touchUp/);
  });

  it('reads a cut of version 5 as one whose samples clear by their tolerance', () => {
    expect(parseCut({ ...olderCut, version: 5, clear: olderClear })).toEqual(cut);
    expect(() => parseCut({ ...olderCut, version: 5 })).toThrow(/samples\[0\]\.rule/);
    expect(() => parseCut({ ...olderCut, version: 5, clear: { ...olderClear, marks: [] } })).toThrow(
      /clear\.marks/,
    );
  });

  it('reads a cut of version 7 as one of the only page, delivered as one PNG', () => {
    expect(page).toEqual({ number: 1, widthPx: null });
    expect(parseCut({ ...olderCut, version: 7 })).toEqual(cut);
    expect(() => parseCut({ ...olderCut, version: 7, page })).toThrow(/cut\.page/);
    expect(() => parseCut({ ...olderCut, version: 7, deliver: AS_NAMED })).toThrow(/deliver\.outputs/);
  });

  it('gives back what it was given', () => {
    expect(parseCut(structuredClone(cut))).toEqual(cut);
    expect(parseCutText(JSON.stringify(cut))).toEqual(cut);
  });

  it.each([
    ['an unknown field', { ...cut, sparkle: 1 }, /unknown field sparkle/],
    ['an unknown field of a sample', withSample({ mood: 1 }), /cut\.clear\.samples\[0\]: unknown field mood/],
    ['another version', { ...cut, version: 99 }, /cut\.version: expected 1 to 8, got 99/],
    ['another format', { ...cut, format: 'other' }, /cut\.format/],
    ['a tolerance above 100', withSample({ tolerance: 140 }), /samples\[0\]\.tolerance/],
    ['a negative tolerance', withSample({ tolerance: -1 }), /samples\[0\]\.tolerance/],
    ['an even area', withSample({ areaPx: 4 }), /samples\[0\]\.areaPx: expected an odd number/],
    ['an area above 101', withSample({ areaPx: 103 }), /samples\[0\]\.areaPx/],
    ['half a pixel', withSample({ x: 1.5 }), /samples\[0\]\.x/],
    ['an unknown reach', withSample({ reach: 'nearby' }), /samples\[0\]\.reach/],
    ['an unknown backdrop', withSample({ backdrop: 'starry' }), /samples\[0\]\.backdrop/],
    ['a shade above 100', withSample({ shade: { darker: 120, lighter: 0 } }), /samples\[0\]\.shade\.darker/],
    ['a mark of no side', withMark({ goes: undefined }), /marks\[0\]\.goes/],
    ['a mark without a place', withMark({ points: [] }), /marks\[0\]\.points/],
    ['half a stretch', withSample({ to: { x: 3 } }), /samples\[0\]\.to\.y/],
    [
      'a pocket without a decision',
      { ...cut, clear: { ...cut.clear, pockets: [{ x: 1, y: 2 }] } },
      /pockets\[0\]\.keep/,
    ],
    ['an edge that is neither on nor off', withEdge({ on: 1 }), /edge\.on/],
    ['an offset beyond 20 px', withEdge({ offsetPx: 21 }), /edge\.offsetPx/],
    ['a negative softness', withEdge({ softnessPx: -0.1 }), /edge\.softnessPx/],
    ['an evenness above 100', withEdge({ evenness: 101 }), /edge\.evenness/],
    ['a missing firmness', withEdge({ firmness: undefined }), /edge\.firmness/],
    ['fields of version 3 in version 1', { ...olderCut, version: 1 }, /cut\.edge: unknown field widthPx/],
    ['fields of version 3 in version 2', { ...olderCut, version: 2 }, /cut\.edge: unknown field widthPx/],
    ['half a pixel of edge width', withEdge({ widthPx: 2.5 }), /edge\.widthPx/],
    ['an edge wider than 12 px', withEdge({ widthPx: 13 }), /edge\.widthPx/],
    ['a spill above 100', withEdge({ spill: 101 }), /edge\.spill/],
    ['a stroke without points', withStroke({ points: [] }), /edge\.fineDetail\[0\]\.points/],
    ['a stroke of no width', withStroke({ radiusPx: 0 }), /edge\.fineDetail\[0\]\.radiusPx/],
    ['half a point', withStroke({ points: [[4]] }), /edge\.fineDetail\[0\]\.points\[0\]/],
    ['a point far outside', withStroke({ points: [[4, 2e6]] }), /points\[0\]\[1\]/],
    ['a missing switch', withSample({ on: undefined }), /samples\[0\]\.on/],
    ['an empty file name', { ...cut, deliver: { fileName: '' } }, /deliver\.fileName/],
    ['no object', 7, /cut: /],
  ])('refuses %s and names the field', (_what, value, message) => {
    expect(() => parseCut(value)).toThrow(message);
  });

  const byInk = { on: true, channel: 'red', black: 30, mid: 100, white: 220, speckPx: 4 };
  const withInk = (change: object) => ({ ...cut, clear: { ...cut.clear, ink: { ...byInk, ...change } } });
  const withPrepare = (change: object) => ({ ...cut, prepare: { ...cut.prepare, ...change } });

  it.each([
    ['an unknown channel', withInk({ channel: 'teal' }), /clear\.ink\.channel/],
    ['points out of order', withInk({ mid: 240 }), /clear\.ink: expected mid between black and white/],
    ['a reading above 255', withInk({ white: 256 }), /clear\.ink\.white/],
    ['negative specks', withInk({ speckPx: -1 }), /clear\.ink\.speckPx/],
    ['a turn by half a right angle', withPrepare({ turn: 45 }), /prepare\.turn/],
    ['straightening by more than 45 degrees', withPrepare({ straightenDeg: 46 }), /prepare\.straightenDeg/],
    [
      'three corners',
      withPrepare({
        corners: [
          [0, 0],
          [9, 0],
          [9, 9],
        ],
      }),
      /prepare\.corners/,
    ],
    ['an empty crop', withPrepare({ crop: { x: 0, y: 0, width: 0, height: 4 } }), /prepare\.crop\.width/],
    ['flattening above 100', withPrepare({ flatten: 101 }), /prepare\.flatten/],
    ['calming below 0', withPrepare({ calm: -1 }), /prepare\.calm/],
    [
      'a color without its sign',
      { ...cut, ink: { ...cut.ink, color: '1d2a6b' } },
      /ink\.color: expected a color/,
    ],
    ['a density above 100', { ...cut, ink: { ...cut.ink, density: 101 } }, /ink\.density/],
    [
      'a colorway that names a folder',
      { ...cut, ink: { ...cut.ink, colorways: [{ name: '../navy', color: '#1d2a6b' }] } },
      /colorways\[0\]\.name: expected letters/,
    ],
  ])('refuses %s', (_what, value, message) => {
    expect(() => parseCut(value)).toThrow(message);
  });

  const mending = (mend: object) => ({ ...cut, touchUp: { on: true, mends: [mend] } });
  const print = (change: object) => ({
    ...cut,
    deliver: { ...AS_NAMED, fileName: null, print: { widthMm: 80, leastDpi: 300, ...change } },
  });

  it.each([
    ['an unknown mend', mending({ mend: 'polish', x: 1, y: 1, reachPx: 3 }), /mends\[0\]\.mend/],
    ['a mend without a reach', mending({ mend: 'speck', x: 1, y: 1 }), /mends\[0\]\.reachPx/],
    ['a speck that reaches too far', mending({ mend: 'speck', x: 1, y: 1, reachPx: 401 }), /reachPx/],
    ['residue without alpha', mending({ mend: 'residue', x: 1, y: 1, reachPx: 9 }), /mends\[0\]\.alpha/],
    [
      'a halo without a color',
      mending({ mend: 'halo', x: 1, y: 1, reachPx: 9, background: 'white' }),
      /background: expected a color/,
    ],
    ['a print of no width', print({ widthMm: 0 }), /print\.widthMm/],
    ['half a dpi', print({ leastDpi: 299.5 }), /print\.leastDpi/],
    [
      'an unknown finding',
      { ...cut, findings: { dismissed: [{ kind: 'dust', x: 1, y: 1 }] } },
      /findings\.dismissed\[0\]\.kind/,
    ],
  ])('refuses %s', (_what, value, message) => {
    expect(() => parseCut(value)).toThrow(message);
  });

  it('refuses colorways whose files would have the same name', () => {
    const colorways = [
      { name: 'off white', color: '#f4f1e8' },
      { name: 'Off-White', color: '#ffffff' },
    ];
    expect(() => parseCut({ ...cut, ink: { ...cut.ink, colorways } })).toThrow(/Off-White occurs twice/);
  });

  it('reads ink that is lighter than its ground', () => {
    const light = withInk({ black: 220, mid: 100, white: 30 });
    expect(parseCut(light)).toEqual(light);
  });

  it('refuses an id that occurs twice', () => {
    expect(() =>
      parseCut({ ...cut, clear: { on: true, samples: [sample, sample], pockets: [], marks: [], ink: null } }),
    ).toThrow(/s1 occurs twice/);
  });

  it('refuses text that is not JSON', () => {
    expect(() => parseCutText('{')).toThrow(/expected a JSON document/);
  });
});

describe('docs/cut-format.md', () => {
  it('shows a cut that is valid', () => {
    const page = readFileSync('docs/cut-format.md', 'utf8');
    const example = /```json\n([\s\S]*?)```/.exec(page)![1]!;
    expect(parseCutText(example).clear.samples.length).toBeGreaterThan(0);
  });
});

describe('describeChange', () => {
  const changed = (change: Partial<Sample>): Cut => ({
    ...cut,
    clear: { on: true, samples: [{ ...sample, ...change }], pockets: [], marks: [], ink: null },
  });

  it.each([
    [{ tolerance: 20 }, 'tolerance 12.5 to 20'],
    [{ reach: 'everywhere' as const }, 'reach everywhere'],
    [{ x: 9 }, 'move a sample'],
    [{ areaPx: 9 }, 'sample area 9 px'],
    [{ on: false }, 'switch a sample off'],
  ])('names a change of %o', (change, words) => {
    expect(describeChange(cut, changed(change))).toBe(words);
  });

  it.each([
    [{ widthPx: 5 }, 'edge width 5 px'],
    [{ spill: 60 }, 'spill 60 %'],
    [{ offsetPx: -0.3 }, 'offset -0.3 px'],
    [{ softnessPx: 2 }, 'softness 2 px'],
    [{ evenness: 60 }, 'evenness 60'],
    [{ firmness: 30 }, 'firmness 30'],
  ])('names a shaping of the edge by %o', (change, words) => {
    expect(describeChange(cut, { ...cut, edge: { ...cut.edge, ...change } })).toBe(words);
  });

  it.each([
    [{ prepare: { ...cut.prepare, straightenDeg: 2.5 } }, 'straighten 2.5°'],
    [{ prepare: { ...cut.prepare, turn: 90 as const } }, 'turn to 90°'],
    [{ prepare: { ...cut.prepare, crop: { x: 1, y: 2, width: 30, height: 20 } } }, 'crop to 30 x 20'],
    [{ prepare: { ...cut.prepare, flatten: 80 } }, 'flatten light 80 %'],
    [{ prepare: { ...cut.prepare, removeRules: true } }, 'remove ruled lines'],
    [{ prepare: { ...cut.prepare, on: false } }, 'switch Prepare off'],
    [{ ink: { ...cut.ink, color: '#1d2a6b' } }, 'ink #1d2a6b'],
    [{ ink: { ...cut.ink, density: 40 } }, 'density 40 %'],
    [{ ink: { ...cut.ink, colorways: [{ name: 'navy', color: '#1d2a6b' }] } }, 'add a colorway'],
    [
      {
        clear: {
          ...cut.clear,
          ink: { ...({ on: true, channel: 'red', black: 1, mid: 2, white: 3, speckPx: 0 } as const) },
        },
      },
      'clear by ink',
    ],
  ])('names a change by %o', (change, words) => {
    expect(describeChange(cut, { ...cut, ...change })).toBe(words);
  });

  it('names mends, dismissals and a print size', () => {
    const speck = { mend: 'speck', x: 1, y: 1, reachPx: 4 } as const;
    const withMends = (count: number): Cut => ({
      ...cut,
      touchUp: { ...cut.touchUp, mends: Array.from({ length: count }, () => speck) },
    });
    expect(describeChange(cut, withMends(1))).toBe('clear a speck');
    expect(describeChange(cut, withMends(3))).toBe('mend 3 places');
    expect(describeChange(withMends(2), withMends(1))).toBe('delete a mend');
    const left: Cut = { ...cut, findings: { dismissed: [{ kind: 'speck', x: 1, y: 1 }] } };
    expect(describeChange(cut, left)).toBe('dismiss a finding');
    expect(describeChange(left, cut)).toBe('bring findings back');
    const printed = { ...cut, deliver: { ...cut.deliver, print: { widthMm: 80, leastDpi: 300 } } };
    expect(describeChange(cut, printed)).toBe('print 80 mm wide');
  });

  it('names strokes that come and go, and a width that is found again', () => {
    const stroke = { radiusPx: 4, points: [[1, 1] as [number, number]] };
    const painted = (count: number): Cut => ({
      ...cut,
      edge: { ...cut.edge, fineDetail: Array.from({ length: count }, () => stroke) },
    });
    expect(describeChange(painted(1), painted(2))).toBe('paint fine detail');
    expect(describeChange(painted(2), painted(1))).toBe('delete a stroke of fine detail');
    expect(describeChange(painted(2), painted(0))).toBe('delete all fine detail');
    const wide = { ...cut, edge: { ...cut.edge, widthPx: 5 } };
    expect(describeChange(wide, cut)).toBe('edge width as found');
  });

  it('names what comes, goes and is switched', () => {
    expect(describeChange(untouchedCut(), cut)).toBe('add a sample');
    expect(describeChange(cut, untouchedCut())).toBe('delete a sample');
    expect(describeChange(cut, { ...cut, clear: { ...cut.clear, on: false } })).toBe('switch Clear off');
    expect(describeChange(cut, { ...cut, deliver: { ...AS_NAMED, fileName: 'a.png', print: null } })).toBe(
      'rename the file',
    );
    expect(describeChange(cut, { ...cut, edge: { ...cut.edge, on: false } })).toBe('switch Edge off');
    expect(describeChange(cut, cut)).toBe('no change');
  });
});
