import { z } from 'zod';
import { placeShape, strokeSchema, within, type Stroke } from '../shapes';
import { same, stageOf } from '../stage';

/** What a cut holds of these at most. */
export const MOST_SAMPLES = 64;
export const MOST_POCKETS = 1000;
export const MOST_MARKS = 400;

export const TOLERANCE = { min: 0, max: 100 } as const;
export const AREA_PX = { min: 1, max: 101 } as const;
export const SHADE = { min: 0, max: 100 } as const;
/** What is read of a pixel, and the specks that are dropped, in pixels of area. */
export const READING = { min: 0, max: 255 } as const;
export const SPECK_PX = { min: 0, max: 10_000 } as const;

export const reachSchema = z.enum(['joined', 'everywhere']);

export const ruleSchema = z.enum(['whole', 'tolerance']);

export const backdropSchema = z.enum(['flat', 'smooth', 'checkerboard']);

export const pocketSchema = z.strictObject({ ...placeShape, keep: z.boolean() });

export const sampleSchema = z.strictObject({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'expected 1 to 40 letters a-z, digits or hyphens'),
  ...placeShape,
  to: z.strictObject(placeShape).nullable(),
  areaPx: z
    .int()
    .min(AREA_PX.min)
    .max(AREA_PX.max)
    .refine((side) => side % 2 === 1, 'expected an odd number'),
  rule: ruleSchema,
  tolerance: within(TOLERANCE),
  reach: reachSchema,
  backdrop: backdropSchema,
  shade: z.strictObject({ darker: within(SHADE), lighter: within(SHADE) }),
  on: z.boolean(),
});

export const channelSchema = z.enum(['luminance', 'red', 'green', 'blue', 'red-green', 'yellow-blue']);

/** Whether the middle point lies between the two others. */
const inOrder = ({ black, mid, white }: { black: number; mid: number; white: number }) =>
  (black < mid && mid < white) || (black > mid && mid > white);

export const byInkSchema = z
  .strictObject({
    on: z.boolean(),
    channel: channelSchema,
    black: within(READING),
    mid: within(READING),
    white: within(READING),
    speckPx: within(SPECK_PX),
  })
  .refine(inOrder, 'expected mid between black and white');

export const markSchema = strokeSchema.extend({ goes: z.boolean() });

export const clearSchema = z.strictObject({
  on: z.boolean(),
  samples: z.array(sampleSchema).max(MOST_SAMPLES),
  pockets: z.array(pocketSchema).max(MOST_POCKETS),
  marks: z.array(markSchema).max(MOST_MARKS),
  ink: byInkSchema.nullable(),
});

export type Reach = z.infer<typeof reachSchema>;
/** Whether the picture as a whole decides what a sample clears, or its tolerance alone. */
export type Rule = z.infer<typeof ruleSchema>;
export type BackdropKind = z.infer<typeof backdropSchema>;
/** What was decided about an enclosed region: cleared with the rest, or kept. */
export type PocketDecision = z.infer<typeof pocketSchema>;
/** A place of background color; see docs/cut-format.md for every field's unit and range. */
export type Sample = z.infer<typeof sampleSchema>;
/** A stroke over what stays or goes. */
export type Mark = Stroke & { readonly goes: boolean };
/** What is read of a pixel to tell ink from paper. */
export type Channel = z.infer<typeof channelSchema>;
/** Clearing by ink: a channel and its levels; see docs/cut-format.md. */
export type ByInk = z.infer<typeof byInkSchema>;
export type Clear = z.infer<typeof clearSchema>;

/** Nothing sampled, marked or read. */
export const NOTHING_CLEARED: Clear = { on: true, samples: [], pockets: [], marks: [], ink: null };

export const CLEAR = stageOf('clear', {
  name: 'Clear',
  doing: 'clearing',
  schema: clearSchema,
  untouched: NOTHING_CLEARED,
  own: ['samples', 'pockets', 'marks', 'ink'],
  describe: (before, after) =>
    describeSamples(before.samples, after.samples) ??
    describeMarks(before.marks, after.marks) ??
    describePockets(before.pockets, after.pockets) ??
    describeByInk(before.ink, after.ink),
  summary({ samples: { length: samples }, marks: { length: marks }, ink }, { cleared }) {
    const parts = [
      ink?.on && `by ink, ${ink.channel}`,
      samples > 0 && (samples === 1 ? '1 sample' : `${samples} samples`),
      marks > 0 && (marks === 1 ? '1 mark' : `${marks} marks`),
    ].filter((part) => typeof part === 'string');
    if (parts.length === 0) return 'no sample yet';
    return [...parts, ...(cleared === null ? [] : [cleared])].join(', ');
  },
  place: (clear, placing) => ({
    ...clear,
    samples: clear.samples.map((one) => ({
      ...placing.within(one),
      to: one.to && placing.within(one.to),
    })),
    pockets: clear.pockets.filter((one) => placing.isInside(one)).map((one) => placing.within(one)),
    marks: clear.marks.map((one) => placing.stroke(one)),
  }),
  // Samples and pockets act on the crop from wherever they lie, and the picture as a whole decides only where it is whole.
  beyondCrop: ({ samples, marks }) =>
    marks.length > 0 || samples.some(({ rule }) => rule === 'whole')
      ? 'all'
      : samples.flatMap(({ x, y, to, areaPx: reachPx }) => [
          { x, y, reachPx },
          ...(to ? [{ ...to, reachPx }] : []),
        ]),
});

function describeSamples(before: readonly Sample[], after: readonly Sample[]): string | null {
  const old = new Map(before.map((sample) => [sample.id, sample]));
  const fresh = new Set(after.map(({ id }) => id));
  const added = after.filter(({ id }) => !old.has(id)).length;
  const gone = before.filter(({ id }) => !fresh.has(id)).length;
  if (added > 0) return added === 1 ? 'add a sample' : `add ${added} samples`;
  if (gone > 0) return gone === 1 ? 'delete a sample' : `delete ${gone} samples`;
  for (const sample of after) {
    const words = describeSample(old.get(sample.id)!, sample);
    if (words) return words;
  }
  return null;
}

function describeSample(before: Sample, after: Sample): string | null {
  if (before.rule !== after.rule)
    return after.rule === 'whole' ? 'decide by the whole picture' : 'decide by tolerance';
  if (before.tolerance !== after.tolerance) return `tolerance ${before.tolerance} to ${after.tolerance}`;
  if (before.reach !== after.reach) return `reach ${after.reach}`;
  if (before.backdrop !== after.backdrop) return `backdrop ${after.backdrop}`;
  if (before.shade.darker !== after.shade.darker) return `shade darker ${after.shade.darker}`;
  if (before.shade.lighter !== after.shade.lighter) return `shade lighter ${after.shade.lighter}`;
  if (before.x !== after.x || before.y !== after.y) return 'move a sample';
  if (!same(before.to, after.to)) return 'take a sample over a stretch';
  if (before.areaPx !== after.areaPx) return `sample area ${after.areaPx} px`;
  if (before.on !== after.on) return after.on ? 'switch a sample on' : 'switch a sample off';
  return null;
}

function describeMarks(before: readonly Mark[], after: readonly Mark[]): string | null {
  if (after.length > before.length) return after.at(-1)!.goes ? 'mark what goes' : 'mark what stays';
  if (after.length < before.length) return after.length === 0 ? 'delete all marks' : 'delete a mark';
  return null;
}

function describePockets(before: readonly PocketDecision[], after: readonly PocketDecision[]): string | null {
  if (same(before, after)) return null;
  const decided = after.length - before.length;
  return decided > 1 ? `decide ${decided} pockets` : 'decide a pocket';
}

function describeByInk(before: ByInk | null, after: ByInk | null): string | null {
  if (!before || !after) return before === after ? null : after ? 'clear by ink' : 'do not clear by ink';
  if (before.on !== after.on) return after.on ? 'switch clearing by ink on' : 'switch clearing by ink off';
  if (before.channel !== after.channel) return `read ${after.channel}`;
  if (before.black !== after.black) return `black point ${after.black}`;
  if (before.white !== after.white) return `white point ${after.white}`;
  if (before.mid !== after.mid) return `mid point ${after.mid}`;
  if (before.speckPx !== after.speckPx) return `drop specks under ${after.speckPx} px²`;
  return null;
}
