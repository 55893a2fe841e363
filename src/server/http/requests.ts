import { z } from 'zod';
import { doubtSchema, routineNameSchema, routineSchema } from '../../core/routine/settings';
import { CARRIED_STAGES } from '../../core/routine/of-cut';
import { LONGEST_COLORWAY } from '../../core/stages/ink/settings';
import { MOST_ITEMS } from '../../storage/runs';
import {
  fontSchema,
  LONGEST_TEXT,
  markedSchema,
  watermarkNameSchema,
  WEIGHT,
} from '../../core/watermark/settings';
import { groundSourceSchema, proofNameSchema } from '../../core/proof/settings';
import { OUTPUT_DPI } from '../../core/stages/deliver/output-settings';

// What requests say in their bodies and addresses. Routes check by these, and the description of the interface is made of them.

export const pieceIdSchema = z.string().regex(/^[0-9a-f]{16}$/, 'expected the id of a piece');

export const sha256Schema = z.string().regex(/^[0-9a-f]{64}$/);

export const deliverRequestSchema = z.strictObject({
  revision: z.int().min(0),
  shownSha256: sha256Schema.nullable(),
  colorway: z.string().max(LONGEST_COLORWAY).nullable().default(null),
  output: z.int().min(0).default(0),
  date: z.iso.date().optional(),
});

export const revisionRequestSchema = z.strictObject({
  after: z.int().min(0),
  label: z.string().min(1).max(120),
  cut: z.unknown(),
});

/** A routine by its name, or as a document. */
const routineChoiceSchema = z.union([routineNameSchema, routineSchema]);

const piecesSchema = z.array(pieceIdSchema).max(MOST_ITEMS, `a run takes at most ${MOST_ITEMS} pictures`);

/** Settings of a piece that are laid on others: of which stages. */
export const layingSchema = z.strictObject({
  piece: pieceIdSchema,
  stages: z.array(z.enum(CARRIED_STAGES)).min(1, 'expected at least one stage'),
});

export const runRequestSchema = z
  .strictObject({
    routine: routineChoiceSchema.optional(),
    /** Instead of a routine: what is laid on the pieces, without delivering them. */
    laying: layingSchema.optional(),
    /** Instead of both: a watermark of the house by its number, and what is made of the photos. */
    marking: z.strictObject({ watermark: z.int().min(1), marked: markedSchema }).optional(),
    pieces: piecesSchema,
    /** What was brought with them and became no piece, with the reason: it stands in the run as failed. */
    refused: z
      .array(z.strictObject({ name: z.string().max(500), message: z.string().max(2000) }))
      .max(MOST_ITEMS)
      .default([]),
    date: z.iso.date().optional(),
  })
  .refine(
    ({ routine, laying, marking }) =>
      [routine, laying, marking].filter((one) => one !== undefined).length === 1,
    'expected routine, laying or marking',
  )
  .refine(({ pieces, refused }) => pieces.length + refused.length > 0, 'expected at least one piece')
  .refine(
    ({ pieces, refused }) => pieces.length + refused.length <= MOST_ITEMS,
    `a run takes at most ${MOST_ITEMS} pictures`,
  );

export const previewRequestSchema = z.strictObject({
  laying: layingSchema,
  pieces: z.array(pieceIdSchema).min(1).max(6),
});

export const runActionSchema = z.strictObject({
  action: z.enum(['pause', 'resume', 'cancel', 'retry', 'undo', 'shelve']),
});

export const itemActionSchema = z.strictObject({ action: z.enum(['accept', 'skip']) });

export const cutoutQuerySchema = z.strictObject({
  name: z.string().min(1, 'name: expected the name of the picture'),
  routine: routineNameSchema,
  /** What becomes of a picture that is not sure; as the routine says where nothing is said. */
  notSure: doubtSchema.optional(),
});

export const watchRequestSchema = z.strictObject({
  folder: z.string().min(1).max(1000),
  out: z.string().min(1).max(1000),
  routine: routineChoiceSchema,
});

export const watchSwitchSchema = z.strictObject({ isOn: z.boolean() });

export const nameRequestSchema = z.strictObject({ name: routineNameSchema });

/** Seconds that an answer may wait for a run to be over. */
export const waitSchema = z.coerce.number('wait: expected seconds').min(0).max(600).default(0);

/** A new proof: of a piece, as a copy of another, from a file of one, or empty. */
export const newProofSchema = z.union([
  z.strictObject({ piece: pieceIdSchema }),
  z.strictObject({ copyOf: z.int().min(1) }),
  z.strictObject({ templateOf: z.int().min(1), name: proofNameSchema }),
  z.strictObject({ name: proofNameSchema, proof: z.unknown().optional() }),
]);

export const proofChangeSchema = z.strictObject({
  name: proofNameSchema.optional(),
  /** The revisions of pieces that it was looked at with. */
  seen: z.record(pieceIdSchema, z.int().min(0)).optional(),
});

export const proofStepSchema = z.strictObject({
  after: z.int().min(0),
  label: z.string().min(1).max(120),
  proof: z.unknown(),
});

export const proofMoveSchema = z.strictObject({ to: z.enum(['undo', 'redo']) });

const groundIdSchema = z.string().max(16);

export const handOverSchema = z.strictObject({
  ground: groundIdSchema,
  format: z.enum(['png', 'jpeg', 'pdf', 'piece']),
  dpi: z.int().min(OUTPUT_DPI.min).max(OUTPUT_DPI.max).default(300),
  placement: groundIdSchema.nullable().default(null),
});

export const seenRequestSchema = z.strictObject({ ground: groundIdSchema });

export const groundRequestSchema = z.strictObject({ source: groundSourceSchema });

/** A new watermark: under a name, a copy of another, or a document that was exported. */
export const newWatermarkSchema = z.union([
  z.strictObject({ name: watermarkNameSchema }),
  z.strictObject({ copyOf: z.int().min(1) }),
  z.strictObject({ watermark: z.unknown() }),
]);

export const watermarkStepSchema = z.strictObject({
  after: z.int().min(0),
  label: z.string().min(1).max(120),
  watermark: z.unknown(),
});

/** A routine that marks photos: what is made of them. */
export const keepRoutineSchema = z.strictObject({ marked: markedSchema });

export const fontRequestSchema = z.strictObject({ font: sha256Schema });

/** Lines that are asked for at once: six photos with a few texts each. */
const MOST_LINES = 400;

export const shapesRequestSchema = z.strictObject({
  wishes: z
    .array(
      z.strictObject({
        text: z.string().max(2 * LONGEST_TEXT),
        font: fontSchema,
        weight: z.int().min(WEIGHT.min).max(WEIGHT.max),
        ligatures: z.boolean(),
      }),
    )
    .max(MOST_LINES),
});
