import { z } from 'zod';
import {
  backdropSchema,
  channelSchema,
  reachSchema,
  sampleSchema,
  SPECK_PX,
  TOLERANCE,
} from '../stages/clear/settings';
import { paddingSchema } from '../stages/deliver/output-settings';
import { setSchema } from '../stages/deliver/set-settings';
import { creditSchema, LONGEST_FILE_NAME, MOST_OUTPUTS, printSchema } from '../stages/deliver/settings';
import { edgeSchema } from '../stages/edge/settings';
import { inkSchema } from '../stages/ink/settings';
import { prepareSchema } from '../stages/prepare/settings';
import { within } from '../stages/shapes';
import { markWishSchema } from '../watermark/settings';

/** The version this program writes. */
export const ROUTINE_VERSION = 2;

/** Letters that the name of a routine has at most, and sets that one delivers. */
export const LONGEST_ROUTINE_NAME = 60;
export const MOST_SETS = 8;

export const routineNameSchema = z
  .string()
  .trim()
  .min(1, 'name: expected at least one letter')
  .max(LONGEST_ROUTINE_NAME, `name: expected at most ${LONGEST_ROUTINE_NAME} letters`)
  .regex(/^[^\p{C}/\\]+$/u, 'name: expected letters that can be seen, without / and \\');

/** What is wished of the proposal for each picture; null leaves it to what the picture is found to be. */
export const clearWishSchema = z.strictObject({
  method: z.enum(['color', 'ink']).nullable(),
  /** Clears by this tolerance instead of by the picture as a whole. */
  tolerance: within(TOLERANCE).nullable(),
  reach: reachSchema.nullable(),
  backdrop: backdropSchema.nullable(),
  shade: sampleSchema.shape.shade.nullable(),
  channel: channelSchema.nullable(),
  speckPx: within(SPECK_PX).nullable(),
  /** Writing is cropped to, and laid level where that is sure. */
  crop: z.boolean(),
  straighten: z.boolean(),
});

/** Settings of Prepare that may be laid on another picture; those that are left out stay as they are there. */
export const prepareWishSchema = prepareSchema
  .omit({ corners: true, flip: true, turn: true, straightenDeg: true, crop: true })
  .partial();

export const edgeWishSchema = edgeSchema.omit({ fineDetail: true }).partial();

export const inkWishSchema = inkSchema.partial();

/** Which files are made, and how they are named. */
export const deliverWishSchema = z
  .strictObject({
    sets: z.array(setSchema).min(1).max(MOST_SETS),
    fileName: z.string().min(1).max(LONGEST_FILE_NAME).nullable(),
    /** For all files of the sets; null: as each of them says. */
    trim: z.boolean().nullable(),
    padding: paddingSchema.nullable(),
    hidden: z.enum(['removed', 'bled']),
    print: printSchema.nullable(),
    credit: creditSchema,
  })
  .refine(
    ({ sets }) => sets.reduce((sum, { outputs }) => sum + outputs.length, 0) <= MOST_OUTPUTS,
    `expected at most ${MOST_OUTPUTS} files in all sets together`,
  );

/** What is done with a piece that is not sure, or that has findings. */
export const doubtSchema = z.enum(['deliver', 'hold', 'skip']);

/** Settings that may be laid on any piece, in the order of the stages; a stage that is null is left as it is. */
const stepsShape = {
  clear: clearWishSchema.nullable(),
  prepare: prepareWishSchema.nullable(),
  edge: edgeWishSchema.nullable(),
  ink: inkWishSchema.nullable(),
  deliver: deliverWishSchema.nullable(),
  /** Photos are marked instead of cut: nothing else of a routine acts on them. Routines from before have none. */
  mark: markWishSchema.nullable().default(null),
};

export const stepsSchema = z.strictObject(stepsShape);

/** A routine as it is kept and as a file; docs/routines.md describes every field. */
export const routineSchema = z
  .strictObject({
    format: z.literal('kenosis-routine'),
    version: z.literal(ROUTINE_VERSION),
    name: routineNameSchema,
    ...stepsShape,
    notSure: doubtSchema,
    findings: doubtSchema,
  })
  .refine(
    ({ mark, clear, prepare, edge, ink, deliver }) =>
      mark === null || [clear, prepare, edge, ink, deliver].every((step) => step === null),
    'a routine that marks photos does nothing else with them',
  );

/** The steps of a routine without what it is called and how doubts are met. */
export function stepsOf({ clear, prepare, edge, ink, deliver, mark }: RoutineSteps): RoutineSteps {
  return { clear, prepare, edge, ink, deliver, mark };
}

export type ClearWish = z.infer<typeof clearWishSchema>;
export type DeliverWish = z.infer<typeof deliverWishSchema>;
/** What becomes of a doubtful piece: it is delivered anyway, held back for a look, or left out. */
export type Doubt = z.infer<typeof doubtSchema>;
export type RoutineSteps = z.infer<typeof stepsSchema>;
export type Routine = z.infer<typeof routineSchema>;

/** Everything as the picture is found to be. */
export const AS_FOUND: ClearWish = {
  method: null,
  tolerance: null,
  reach: null,
  backdrop: null,
  shade: null,
  channel: null,
  speckPx: null,
  crop: true,
  straighten: true,
};

/** Nothing is laid on a piece. */
export const NO_STEPS: RoutineSteps = {
  clear: null,
  prepare: null,
  edge: null,
  ink: null,
  deliver: null,
  mark: null,
};
