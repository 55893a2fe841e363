import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { AS_NAMED } from '../stages/deliver/settings';
import { FOUND_EDGE } from '../stages/edge/settings';
import { FOUND_INK } from '../stages/ink/settings';
import { AS_IT_CAME } from '../stages/prepare/settings';
import { NOTHING_MENDED } from '../stages/touch-up/settings';
import { ONLY_PAGE } from './page';
import { parseCutText } from './parse';
import { CUT_VERSION } from './schema';

type Stored = Readonly<Record<string, object>>;

/** A cut as that version wrote it. */
const textOf = (version: number) => readFileSync(`tests/make/cuts/version-${version}.json`, 'utf8');
const stored = (version: number) => JSON.parse(textOf(version)) as Stored;

/** Samples as they were before a picture as a whole could decide. */
const byTolerance = (clear: object | undefined) => ({
  ...(clear as { samples: object[] }),
  samples: (clear as { samples: object[] }).samples.map((sample) => ({ ...sample, rule: 'tolerance' })),
  marks: [],
});

describe('cuts of earlier versions', () => {
  it.each([1, 2, 3])('of version %i are read as unprepared, not read by ink, not inked', (version) => {
    const { clear, edge, deliver } = stored(version);
    expect(parseCutText(textOf(version))).toEqual({
      format: 'kenosis-cut',
      version: CUT_VERSION,
      prepare: AS_IT_CAME,
      clear: { ...byTolerance(clear), ink: null },
      edge: { ...FOUND_EDGE, ...edge },
      touchUp: NOTHING_MENDED,
      ink: FOUND_INK,
      page: ONLY_PAGE,
      deliver: { ...AS_NAMED, ...deliver },
      findings: { dismissed: [] },
    });
  });

  it('of version 4 are read with nothing mended or dismissed and no print size', () => {
    const { prepare, clear, edge, ink, deliver } = stored(4);
    expect(parseCutText(textOf(4))).toEqual({
      format: 'kenosis-cut',
      version: CUT_VERSION,
      prepare,
      clear: byTolerance(clear),
      edge,
      touchUp: NOTHING_MENDED,
      ink,
      page: ONLY_PAGE,
      deliver: { ...AS_NAMED, ...deliver },
      findings: { dismissed: [] },
    });
  });

  it('of version 5 are read as ones whose samples clear by their tolerance', () => {
    const cut = stored(5);
    expect(parseCutText(textOf(5))).toEqual({
      ...cut,
      version: CUT_VERSION,
      page: ONLY_PAGE,
      deliver: { ...AS_NAMED, ...cut.deliver },
      clear: byTolerance(cut.clear),
      touchUp: { ...cut.touchUp, strokes: [], weightPx: 0 },
    });
  });

  it('of version 6 are read as ones without strokes, and may not have any', () => {
    const cut = stored(6);
    expect(parseCutText(textOf(6))).toEqual({
      ...cut,
      version: CUT_VERSION,
      page: ONLY_PAGE,
      deliver: { ...AS_NAMED, ...cut.deliver },
      touchUp: { ...cut.touchUp, strokes: [], weightPx: 0 },
    });
    const early = { ...cut, touchUp: { ...cut.touchUp, strokes: [] } };
    expect(() => parseCutText(JSON.stringify(early))).toThrow('cut.touchUp.strokes');
  });

  it('of version 7 are read as ones of the only page, delivered as one PNG', () => {
    const cut = stored(7);
    expect(parseCutText(textOf(7))).toEqual({
      ...cut,
      version: CUT_VERSION,
      page: ONLY_PAGE,
      deliver: { ...AS_NAMED, ...cut.deliver },
    });
  });

  it('of this version are read as they are', () => {
    expect(parseCutText(textOf(CUT_VERSION))).toEqual(stored(CUT_VERSION));
  });
});
