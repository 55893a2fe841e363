import { z } from 'zod';

/** The version this program writes. `parseCut` brings older ones up to date and refuses all others. */
export const CUT_VERSION = 6;

/** Limits of the numbers in a cut, shared by the schema, the settings column and the command line. */
export const LIMITS = {
  tolerance: { min: 0, max: 100 },
  areaPx: { min: 1, max: 101 },
  samples: 64,
  shade: { min: 0, max: 100 },
  pockets: 1000,
  marks: 400,
  offsetPx: { min: -20, max: 20 },
  softnessPx: { min: 0, max: 40 },
  evenness: { min: 0, max: 100 },
  firmness: { min: 0, max: 100 },
  widthPx: { min: 1, max: 12 },
  spill: { min: 0, max: 100 },
  fineDetail: 200,
  brushPx: { min: 1, max: 500 },
  strokePoints: 2000,
  place: { min: -1000, max: 1_000_000 },
  fileName: 200,
  straightenDeg: { min: -45, max: 45 },
  flatten: { min: 0, max: 100 },
  calm: { min: 0, max: 100 },
  reading: { min: 0, max: 255 },
  speckPx: { min: 0, max: 10_000 },
  density: { min: 0, max: 100 },
  colorways: 24,
  colorwayName: 40,
  mends: 2000,
  mendReachPx: { min: 1, max: 1_000_000 },
  islandReachPx: { min: 1, max: 400 },
  residueAlpha: { min: 1, max: 64 },
  dismissed: 2000,
  printMm: { min: 1, max: 10_000 },
  printDpi: { min: 36, max: 2400 },
} as const;

export const reachSchema = z.enum(['joined', 'everywhere']);

export const ruleSchema = z.enum(['whole', 'tolerance']);

export const backdropSchema = z.enum(['flat', 'smooth', 'checkerboard']);

const placeSchema = { x: z.int().min(0), y: z.int().min(0) };
const shadeSchema = z.number().min(LIMITS.shade.min).max(LIMITS.shade.max);

export const pocketSchema = z.strictObject({ ...placeSchema, keep: z.boolean() });

export const sampleSchema = z.strictObject({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'expected 1 to 40 letters a-z, digits or hyphens'),
  ...placeSchema,
  to: z.strictObject(placeSchema).nullable(),
  areaPx: z
    .int()
    .min(LIMITS.areaPx.min)
    .max(LIMITS.areaPx.max)
    .refine((side) => side % 2 === 1, 'expected an odd number'),
  rule: ruleSchema,
  tolerance: z.number().min(LIMITS.tolerance.min).max(LIMITS.tolerance.max),
  reach: reachSchema,
  backdrop: backdropSchema,
  shade: z.strictObject({ darker: shadeSchema, lighter: shadeSchema }),
  on: z.boolean(),
});

const within = ({ min, max }: { readonly min: number; readonly max: number }) => z.number().min(min).max(max);

const wholeWithin = ({ min, max }: { readonly min: number; readonly max: number }) =>
  z.int().min(min).max(max);

const pointSchema = z.tuple([within(LIMITS.place), within(LIMITS.place)]);

export const cropSchema = z.strictObject({
  ...placeSchema,
  width: z.int().min(1),
  height: z.int().min(1),
});

export const turnSchema = z.literal([0, 90, 180, 270]);

export const prepareSchema = z.strictObject({
  on: z.boolean(),
  corners: z.tuple([pointSchema, pointSchema, pointSchema, pointSchema]).nullable(),
  flip: z.boolean(),
  turn: turnSchema,
  straightenDeg: within(LIMITS.straightenDeg),
  crop: cropSchema.nullable(),
  flatten: within(LIMITS.flatten),
  calm: within(LIMITS.calm),
  removeRules: z.boolean(),
});

export const channelSchema = z.enum(['luminance', 'red', 'green', 'blue', 'red-green', 'yellow-blue']);

/** Whether the middle point lies between the two others. */
const inOrder = ({ black, mid, white }: { black: number; mid: number; white: number }) =>
  (black < mid && mid < white) || (black > mid && mid > white);

export const byInkSchema = z
  .strictObject({
    on: z.boolean(),
    channel: channelSchema,
    black: within(LIMITS.reading),
    mid: within(LIMITS.reading),
    white: within(LIMITS.reading),
    speckPx: within(LIMITS.speckPx),
  })
  .refine(inOrder, 'expected mid between black and white');

export const strokeSchema = z.strictObject({
  radiusPx: within(LIMITS.brushPx),
  points: z.array(pointSchema).min(1).max(LIMITS.strokePoints),
});

export const markSchema = strokeSchema.extend({ goes: z.boolean() });

export const clearSchema = z.strictObject({
  on: z.boolean(),
  samples: z.array(sampleSchema).max(LIMITS.samples),
  pockets: z.array(pocketSchema).max(LIMITS.pockets),
  marks: z.array(markSchema).max(LIMITS.marks),
  ink: byInkSchema.nullable(),
});

export const edgeSchema = z.strictObject({
  on: z.boolean(),
  widthPx: z.int().min(LIMITS.widthPx.min).max(LIMITS.widthPx.max).nullable(),
  spill: within(LIMITS.spill),
  offsetPx: within(LIMITS.offsetPx),
  softnessPx: within(LIMITS.softnessPx),
  evenness: within(LIMITS.evenness),
  firmness: within(LIMITS.firmness),
  fineDetail: z.array(strokeSchema).max(LIMITS.fineDetail),
});

const colorSchema = z.string().regex(/^#[0-9a-f]{6}$/, 'expected a color like #1d2a6b');

/** Something small that is put right at one place; see docs/cut-format.md for what each does. */
export const mendSchema = z.discriminatedUnion('mend', [
  z.strictObject({ mend: z.literal('speck'), ...placeSchema, reachPx: wholeWithin(LIMITS.islandReachPx) }),
  z.strictObject({ mend: z.literal('pinhole'), ...placeSchema, reachPx: wholeWithin(LIMITS.islandReachPx) }),
  z.strictObject({
    mend: z.literal('residue'),
    ...placeSchema,
    reachPx: wholeWithin(LIMITS.mendReachPx),
    alpha: wholeWithin(LIMITS.residueAlpha),
  }),
  z.strictObject({
    mend: z.literal('halo'),
    ...placeSchema,
    reachPx: wholeWithin(LIMITS.mendReachPx),
    background: colorSchema,
  }),
]);

export const touchUpSchema = z.strictObject({
  on: z.boolean(),
  mends: z.array(mendSchema).max(LIMITS.mends),
});

export const colorwaySchema = z.strictObject({
  name: z
    .string()
    .max(LIMITS.colorwayName)
    .regex(
      /^[\p{L}\p{N}]+([ ._-][\p{L}\p{N}]+)*$/u,
      'expected letters and digits, single spaces, dots or hyphens between',
    ),
  color: colorSchema,
});

export const inkSchema = z.strictObject({
  on: z.boolean(),
  color: colorSchema.nullable(),
  density: within(LIMITS.density),
  light: z.boolean(),
  colorways: z.array(colorwaySchema).max(LIMITS.colorways),
});

/** How large a delivery is to be printed, and at which resolution it still looks sharp. */
export const printSchema = z.strictObject({
  widthMm: within(LIMITS.printMm),
  leastDpi: wholeWithin(LIMITS.printDpi),
});

export const deliverSchema = z.strictObject({
  fileName: z.string().min(1).max(LIMITS.fileName).nullable(),
  print: printSchema.nullable(),
});

export const findingKindSchema = z.enum([
  'missing',
  'pocket',
  'speck',
  'residue',
  'pinhole',
  'halo',
  'rough-edge',
  'frame',
  'alike',
  'tolerance',
  'idle-sample',
  'print-size',
  'hidden-color',
]);

/** A finding that somebody looked at and left: of one kind, at a place of the original. */
export const dismissedSchema = z.strictObject({ kind: findingKindSchema, ...placeSchema });

export const findingsSchema = z.strictObject({
  dismissed: z.array(dismissedSchema).max(LIMITS.dismissed),
});

export const cutSchema = z.strictObject({
  format: z.literal('kenosis-cut'),
  version: z.literal(CUT_VERSION),
  prepare: prepareSchema,
  clear: clearSchema,
  edge: edgeSchema,
  touchUp: touchUpSchema,
  ink: inkSchema,
  deliver: deliverSchema,
  findings: findingsSchema,
});

export type Reach = z.infer<typeof reachSchema>;
/** Whether the picture as a whole decides what a sample clears, or its tolerance alone. */
export type Rule = z.infer<typeof ruleSchema>;
export type BackdropKind = z.infer<typeof backdropSchema>;
/** What was decided about an enclosed region: cleared with the rest, or kept. */
export type PocketDecision = z.infer<typeof pocketSchema>;
/** A place of background color; see docs/cut-format.md for every field's unit and range. */
export type Sample = z.infer<typeof sampleSchema>;
/** A stroke of a brush: a line through points of the original, as wide as twice its radius, with round ends. */
export type Stroke = z.infer<typeof strokeSchema>;
/** A stroke over what stays or goes. */
export type Mark = z.infer<typeof markSchema>;
export type Prepare = z.infer<typeof prepareSchema>;
/** A rectangle of the picture as it is after turning and straightening, in its pixels. */
export type Crop = z.infer<typeof cropSchema>;
export type Turn = z.infer<typeof turnSchema>;
/** What is read of a pixel to tell ink from paper. */
export type Channel = z.infer<typeof channelSchema>;
/** Clearing by ink: a channel and its levels; see docs/cut-format.md. */
export type ByInk = z.infer<typeof byInkSchema>;
export type Ink = z.infer<typeof inkSchema>;
export type Colorway = z.infer<typeof colorwaySchema>;
export type Edge = z.infer<typeof edgeSchema>;
/** Settings of the edge that are one number. */
export type EdgeNumber = 'widthPx' | 'spill' | 'offsetPx' | 'softnessPx' | 'evenness' | 'firmness';
export type Mend = z.infer<typeof mendSchema>;
export type TouchUp = z.infer<typeof touchUpSchema>;
/** What the checks look for; see the findings room. */
export type FindingKind = z.infer<typeof findingKindSchema>;
export type Dismissed = z.infer<typeof dismissedSchema>;
export type Cut = z.infer<typeof cutSchema>;
