import { describe, expect, it } from 'vitest';
import { toyCut, toyStages } from '../../../tests/make/toy-stage';
import { carriedOver } from './carry';
import { newSample } from './new-sample';
import { parseCut, untouchedCut } from './parse';
import type { Cut } from './schema';
import { AS_NAMED } from '../stages/deliver/settings';

const untouched = untouchedCut();
const onto: Cut = {
  ...untouched,
  prepare: { ...untouched.prepare, crop: { x: 1, y: 2, width: 30, height: 20 }, flatten: 10 },
  clear: { ...untouched.clear, samples: [newSample('s1', 3, 4)] },
  edge: { ...untouched.edge, fineDetail: [{ radiusPx: 4, points: [[1, 1]] }] },
  touchUp: {
    ...untouched.touchUp,
    mends: [{ mend: 'speck', x: 5, y: 6, reachPx: 3 }],
    strokes: [{ kind: 'island', does: 'keep', x: 5, y: 6 }],
  },
  deliver: { ...AS_NAMED, fileName: 'mine.png', print: null },
  findings: { dismissed: [{ kind: 'speck', x: 1, y: 1 }] },
};
const from: Cut = {
  ...untouched,
  prepare: { ...untouched.prepare, crop: { x: 9, y: 9, width: 9, height: 9 }, flatten: 80, turn: 90 },
  clear: { ...untouched.clear, samples: [newSample('other', 50, 60)] },
  edge: { ...untouched.edge, softnessPx: 2 },
  touchUp: { ...untouched.touchUp, on: false, strokes: [{ kind: 'island', does: 'clear', x: 1, y: 1 }] },
  ink: { ...untouched.ink, color: '#1d2a6b', colorways: [{ name: 'navy', color: '#1d2a6b' }] },
  deliver: { ...AS_NAMED, fileName: 'theirs.png', print: { widthMm: 80, leastDpi: 300 } },
};

describe('carriedOver', () => {
  it('takes what may be laid on any picture, and leaves what belongs to this one', () => {
    const cut = carriedOver(from, onto);
    expect(parseCut(cut)).toEqual({
      ...onto,
      prepare: { ...onto.prepare, flatten: 80 },
      edge: { ...onto.edge, softnessPx: 2 },
      touchUp: { ...onto.touchUp, on: false },
      ink: from.ink,
      deliver: { ...AS_NAMED, fileName: 'mine.png', print: from.deliver.print },
    });
  });

  it('does so with a stage that is added', () => {
    const other = toyCut({ shadePercent: 20, spots: [{ x: 1, y: 1 }] });
    const own = toyCut({ spots: [{ x: 7, y: 7 }] });
    expect(carriedOver(other, own, toyStages)).toEqual(toyCut({ shadePercent: 20, spots: [{ x: 7, y: 7 }] }));
  });
});
