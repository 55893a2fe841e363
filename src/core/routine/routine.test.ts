import { describe, expect, it } from 'vitest';
import { untouchedCut } from '../cut/parse';
import { newSample } from '../cut/new-sample';
import type { Cut } from '../cut/schema';
import type { z } from 'zod';
import { STAGES } from '../stages/stages';
import { FIRST_SETS } from '../stages/deliver/sets';
import { FIRST_ROUTINES, newRoutine } from './first-routines';
import { laidOn, needsProposal } from './lay';
import { CARRIED_STAGES, stepsOfCut } from './of-cut';
import { parseRoutine, parseRoutineText } from './parse';
import { AS_FOUND, NO_STEPS, stepsSchema, type Routine } from './settings';
import { judge } from './verdict';
import { routineWords } from './words';

const untouched = untouchedCut();
const sample = newSample('s1', 3, 4, {
  tolerance: 12,
  reach: 'everywhere',
  shade: { darker: 30, lighter: 5 },
});

/** A cut with something set in every stage, and places of its own. */
const worked: Cut = {
  ...untouched,
  prepare: {
    ...untouched.prepare,
    flatten: 40,
    removeRules: true,
    crop: { x: 1, y: 2, width: 30, height: 20 },
    turn: 90,
  },
  clear: {
    ...untouched.clear,
    samples: [{ ...sample, rule: 'tolerance' }],
    pockets: [{ x: 9, y: 9, keep: true }],
    marks: [{ goes: true, radiusPx: 3, points: [[1, 1]] }],
  },
  edge: { ...untouched.edge, offsetPx: -0.4, evenness: 30, fineDetail: [{ radiusPx: 4, points: [[2, 2]] }] },
  ink: { ...untouched.ink, color: '#1d2a6b', colorways: [{ name: 'white', color: '#ffffff' }] },
  deliver: {
    ...untouched.deliver,
    fileName: '{piece}-own',
    outputs: [...FIRST_SETS[0]!.outputs],
    hidden: 'bled',
  },
};

const other: Cut = {
  ...untouched,
  prepare: { ...untouched.prepare, crop: { x: 5, y: 5, width: 10, height: 10 } },
  clear: {
    ...untouched.clear,
    samples: [newSample('s1', 70, 80), newSample('s2', 90, 80)],
    pockets: [{ x: 1, y: 1, keep: false }],
  },
  edge: { ...untouched.edge, fineDetail: [{ radiusPx: 9, points: [[8, 8]] }] },
  deliver: { ...untouched.deliver, fileName: 'mine' },
};

describe('what may be laid on another piece', () => {
  it('is all of a stage but what it says is its own', () => {
    const wishes = stepsSchema.shape;
    for (const key of ['prepare', 'edge', 'ink'] as const) {
      const stage = STAGES.find((one) => one.key === key)!;
      const fields = Object.keys((stage.schema as unknown as z.ZodObject).shape);
      const carried = Object.keys(wishes[key].unwrap().shape);
      expect(carried.sort(), key).toEqual(fields.filter((field) => !stage.own.includes(field)).sort());
    }
  });

  it('is nothing of what is touched up', () => {
    expect(CARRIED_STAGES).not.toContain('touchUp');
    expect(STAGES.find(({ key }) => key === 'touchUp')!.own).toEqual(
      expect.arrayContaining(['strokes', 'mends']),
    );
  });
});

describe('laying settings on another cut', () => {
  it('changes nothing with no steps, and nothing laid on the piece it comes from', () => {
    expect(laidOn(worked, NO_STEPS)).toEqual(worked);
    expect(laidOn(worked, stepsOfCut(worked, CARRIED_STAGES, null))).toEqual(worked);
  });

  it('does the same once and twice', () => {
    const steps = stepsOfCut(worked, CARRIED_STAGES, null);
    expect(laidOn(laidOn(other, steps), steps)).toEqual(laidOn(other, steps));
  });

  it('takes the numbers and leaves places, crops, strokes, answers and names', () => {
    const laid = laidOn(other, stepsOfCut(worked, CARRIED_STAGES, null));
    expect(
      laid.clear.samples.map(({ x, y, tolerance, rule, reach, shade }) => ({
        x,
        y,
        tolerance,
        rule,
        reach,
        shade,
      })),
    ).toEqual(
      [70, 90].map((x) => ({
        x,
        y: 80,
        tolerance: 12,
        rule: 'tolerance',
        reach: 'everywhere',
        shade: sample.shade,
      })),
    );
    expect(laid.clear.pockets).toEqual(other.clear.pockets);
    expect(laid.clear.marks).toEqual([]);
    expect(laid.prepare).toEqual({ ...other.prepare, flatten: 40, removeRules: true });
    expect(laid.edge).toEqual({ ...other.edge, offsetPx: -0.4, evenness: 30 });
    expect(laid.ink).toEqual(worked.ink);
    expect(laid.deliver).toEqual({ ...worked.deliver, fileName: 'mine' });
  });

  it.each(CARRIED_STAGES)('touches nothing but %s where only that was chosen', (stage) => {
    const laid = laidOn(other, stepsOfCut(worked, [stage], null));
    for (const { key } of STAGES)
      if (key === stage) expect(laid[key], key).not.toEqual(other[key]);
      else expect(laid[key], key).toEqual(other[key]);
  });

  it('leaves out what was proposed and not changed: it is no fact about another picture', () => {
    const steps = stepsOfCut(
      { ...worked, clear: { ...worked.clear, samples: [{ ...sample, rule: 'whole' }] } },
      ['clear'],
      {
        ...worked,
        clear: { ...worked.clear, samples: [{ ...sample, x: 50, reach: 'joined' }] },
      },
    );
    expect(steps.clear).toEqual({ ...AS_FOUND, method: 'color', reach: 'everywhere' });
  });

  it('gives all files of a routine its padding and trim, and keeps the sets otherwise', () => {
    const [site] = FIRST_SETS;
    const padding = { top: 5, right: 5, bottom: 5, left: 5, unit: '%' } as const;
    const { deliver } = newRoutine('r', {
      deliver: {
        ...newRoutine('x').deliver!,
        sets: [{ ...site!, outputs: [...site!.outputs] }],
        trim: false,
        padding,
      },
    });
    const { outputs } = laidOn(other, { ...NO_STEPS, deliver }).deliver;
    expect(outputs.map(({ format }) => format)).toEqual(site!.outputs.map(({ format }) => format));
    for (const { size } of outputs) expect(size).toMatchObject({ trim: false, padding });
  });
});

describe('whether a piece needs a proposal', () => {
  const by = (ink: boolean, samples = 0) => ({
    ...untouched.clear,
    samples: Array.from({ length: samples }, (_, k) => newSample(`s${k}`, k, k)),
    ink: ink ? { on: true, channel: 'luminance' as const, black: 10, mid: 90, white: 200, speckPx: 0 } : null,
  });
  it.each([
    ['nothing is cleared', by(false), AS_FOUND, true],
    ['nothing is cleared, and nothing is wished', by(false), null, true],
    ['it has samples', by(false, 2), AS_FOUND, false],
    ['it has samples, and ink is wished', by(false, 2), { ...AS_FOUND, method: 'ink' as const }, true],
    ['it is by ink, and ink is wished', by(true), { ...AS_FOUND, method: 'ink' as const }, false],
    ['it is by ink, and color is wished', by(true), { ...AS_FOUND, method: 'color' as const }, true],
    [
      'another channel is wished',
      by(true),
      { ...AS_FOUND, method: 'ink' as const, channel: 'red' as const },
      true,
    ],
  ])('%s', (_what, clear, wish, needs) => expect(needsProposal(clear, wish)).toBe(needs));
});

describe('what becomes of a piece', () => {
  const hold = { notSure: 'hold', findings: 'skip' } as const;
  const clean = { noProposal: null, openAreas: 0, findings: {} };
  it.each([
    ['all is sure', clean, { sure: true, outcome: 'deliver', why: '' }],
    [
      'nothing was proposed',
      { ...clean, noProposal: 'It is busy.' },
      { sure: false, outcome: 'hold', why: 'It is busy.' },
    ],
    ['an area is open', { ...clean, openAreas: 1 }, { sure: false, outcome: 'hold' }],
    ['a part is missing', { ...clean, findings: { missing: 1 } }, { sure: false, outcome: 'hold' }],
    [
      'there are findings',
      { ...clean, findings: { speck: 2 } },
      { sure: true, outcome: 'skip', why: '2 findings to look at.' },
    ],
    [
      'there are notes only',
      { ...clean, findings: { alike: 1, 'hidden-color': 1 } },
      { sure: true, outcome: 'deliver' },
    ],
  ])('where %s', (_what, seen, verdict) => expect(judge(seen, hold)).toMatchObject(verdict));

  it('is never called sure because it is delivered anyway', () => {
    const verdict = judge({ ...clean, openAreas: 3 }, { notSure: 'deliver', findings: 'deliver' });
    expect(verdict).toMatchObject({ sure: false, outcome: 'deliver' });
    expect(verdict.why).toContain('3 areas');
  });
});

describe('a routine as a file', () => {
  it('is read as it was written', () => {
    for (const routine of FIRST_ROUTINES) expect(parseRoutineText(JSON.stringify(routine))).toEqual(routine);
  });

  const broken = (change: (routine: Record<string, unknown>) => void) => {
    const routine = structuredClone(FIRST_ROUTINES[0]) as unknown as Record<string, unknown>;
    change(routine);
    return () => parseRoutine(routine);
  };
  it('is refused with the field that is wrong', () => {
    expect(() => parseRoutineText('{')).toThrow('expected a JSON document');
    expect(broken((one) => (one.speed = 3))).toThrow('unknown field speed');
    expect(broken((one) => (one.name = ' '))).toThrow('name: expected at least one letter');
    expect(broken((one) => (one.edge = { offsetPx: 99 }))).toThrow('routine.edge.offsetPx');
    expect(broken((one) => (one.edge = { fineDetail: [] }))).toThrow('fineDetail');
    expect(
      broken(
        (one) =>
          (one.ink = {
            colorways: [
              { name: 'a', color: '#000000' },
              { name: 'A', color: '#111111' },
            ],
          }),
      ),
    ).toThrow('occurs twice');
    expect(broken((one) => (one.notSure = 'maybe'))).toThrow('routine.notSure');
    expect(broken((one) => ((one.deliver as { sets: unknown }).sets = []))).toThrow('routine.deliver.sets');
  });

  it('of a later Kenosis is refused as such', () => {
    expect(broken((one) => (one.version = 3))).toThrow(
      expect.objectContaining({ code: 'newer-routine' }) as Error,
    );
    expect(broken((one) => (one.version = 0))).toThrow(
      expect.objectContaining({ code: 'bad-routine' }) as Error,
    );
  });
});

describe('a routine in words', () => {
  it('says what it does in order', () => {
    const routine: Routine = newRoutine('r', {
      clear: { ...AS_FOUND, tolerance: 8 },
      prepare: { flatten: 50, removeRules: true },
      edge: { offsetPx: -0.4 },
      ink: {
        color: '#1d2a6b',
        colorways: [
          { name: 'white', color: '#ffffff' },
          { name: 'sand', color: '#e9c46a' },
        ],
      },
      deliver: {
        ...newRoutine('x').deliver!,
        sets: FIRST_SETS.slice(0, 2).map((set) => ({ ...set, outputs: [...set.outputs] })),
        trim: true,
        padding: { top: 5, right: 5, bottom: 5, left: 5, unit: '%' },
        fileName: '{piece}-{colorway}',
      },
    });
    expect(routineWords(routine).map((words) => words.replaceAll('\u00a0', ' '))).toEqual([
      'propose, tolerance 8',
      'flatten uneven light 50 %',
      'remove ruled lines',
      'edge offset -0.4 px',
      'ink blue #1d2a6b',
      'colorways white and sand',
      'trim with 5 % padding',
      'sets site and print',
      'file name {piece}-{colorway}',
      'hold back what is not sure',
    ]);
  });
});
