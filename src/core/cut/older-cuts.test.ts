import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FOUND_EDGE } from '../stages/edge/settings';
import { FOUND_INK } from '../stages/ink/settings';
import { AS_IT_CAME } from '../stages/prepare/settings';
import { NOTHING_MENDED } from '../stages/touch-up/settings';
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
      deliver: { ...deliver, print: null },
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
      deliver: { ...deliver, print: null },
      findings: { dismissed: [] },
    });
  });

  it('of version 5 are read as ones whose samples clear by their tolerance', () => {
    const cut = stored(5);
    expect(parseCutText(textOf(5))).toEqual({ ...cut, version: CUT_VERSION, clear: byTolerance(cut.clear) });
  });

  it('of this version are read as they are', () => {
    expect(parseCutText(textOf(CUT_VERSION))).toEqual(stored(CUT_VERSION));
  });
});
