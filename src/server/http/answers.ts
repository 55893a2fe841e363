import { z } from 'zod';
import { cutSchema } from '../../core/cut/schema';
import { routineSchema as bareRoutineSchema } from '../../core/routine/settings';
import { ITEM_STATES, RUN_STATES } from '../../storage/runs';
import { pieceIdSchema, sha256Schema } from './requests';

// What routes answer with. The description of the interface is made of these, and a test holds real answers against them.

export const routineSchema = bareRoutineSchema.meta({ id: 'Routine' });

export const refusalSchema = z
  .strictObject({
    code: z.string(),
    message: z.string(),
    wayOut: z.string().optional(),
  })
  .meta({ id: 'Refusal' });

export const countsSchema = z.record(z.string(), z.int());

export const pieceSchema = z
  .strictObject({
    id: pieceIdSchema,
    sha256: sha256Schema,
    name: z.string(),
    format: z.string(),
    bytes: z.int(),
    width: z.int(),
    height: z.int(),
    dpi: z.number().nullable(),
    backing: z.string(),
    reason: z.string(),
    notes: z.array(z.string()),
    revision: z.int(),
    createdAt: z.iso.datetime(),
    findings: countsSchema.nullable(),
    trashed: z.boolean(),
  })
  .meta({ id: 'Piece' });

export const shelfPieceSchema = pieceSchema
  .extend({
    state: z.enum(['untouched', 'cut', 'delivered']),
    deliveries: z.int(),
  })
  .meta({ id: 'ShelfPiece' });

export const arrivalSchema = z
  .strictObject({
    piece: pieceSchema,
    known: z.boolean(),
    healed: z.boolean(),
    arrived: z.array(z.strictObject({ piece: pieceSchema, known: z.boolean(), healed: z.boolean() })),
  })
  .meta({ id: 'Arrival' });

/** What has to be chosen of a file of several pages, or of a drawing. */
export const choiceSchema = z
  .strictObject({
    choice: z.strictObject({
      pages: z.int(),
      shown: z.array(
        z.strictObject({
          number: z.int(),
          width: z.int(),
          height: z.int(),
          picture: z.string().nullable(),
        }),
      ),
      drawn: z
        .strictObject({
          widthIn: z.number(),
          aspect: z.number(),
          scanWidthPx: z.int().nullable(),
          proposedWidthPx: z.int(),
        })
        .nullable(),
    }),
  })
  .meta({ id: 'Choice' });

export const cutStateSchema = z
  .strictObject({
    revision: z.int(),
    cut: cutSchema.meta({ id: 'Cut' }),
    undo: z.string().nullable(),
    redo: z.string().nullable(),
  })
  .meta({ id: 'CutState' });

export const deliverySchema = z
  .strictObject({
    id: z.int(),
    pieceId: pieceIdSchema,
    revision: z.int(),
    fileName: z.string(),
    format: z.string(),
    sha256: sha256Schema,
    pixelSha256: sha256Schema,
    bytes: z.int(),
    width: z.int(),
    height: z.int(),
    dpi: z.number().nullable(),
    transparent: z.int(),
    partly: z.int(),
    opaque: z.int(),
    findings: z.looseObject({}).nullable(),
    createdAt: z.iso.datetime(),
  })
  .meta({ id: 'Delivery' });

export const runSchema = z
  .strictObject({
    id: z.int(),
    name: z.string(),
    routine: routineSchema,
    purpose: z.enum(['deliver', 'lay']),
    state: z.enum(RUN_STATES),
    message: z.string(),
    date: z.string(),
    createdAt: z.iso.datetime(),
    endedAt: z.iso.datetime().nullable(),
    counts: z.partialRecord(z.enum(ITEM_STATES), z.int()),
    meanMs: z.number().nullable(),
  })
  .meta({ id: 'Run' });

export const runItemSchema = z
  .strictObject({
    id: z.int(),
    runId: z.int(),
    number: z.int(),
    name: z.string(),
    pieceId: pieceIdSchema.nullable(),
    state: z.enum(ITEM_STATES),
    tries: z.int(),
    accepted: z.boolean(),
    message: z.string(),
    sure: z.boolean().nullable(),
    findings: countsSchema.nullable(),
    revision: z.int().nullable(),
    before: z.int().nullable(),
    deliveries: z.array(z.int()),
    ms: z.int().nullable(),
  })
  .meta({ id: 'RunItem' });

export const reportSchema = z
  .strictObject({
    routine: z.string(),
    pictures: z.int(),
    counts: countsSchema,
    rows: z.array(
      z.strictObject({
        name: z.string(),
        state: z.string(),
        sure: z.boolean().nullable(),
        findings: countsSchema,
        message: z.string(),
        ms: z.int().nullable(),
        files: z.array(
          z.strictObject({
            name: z.string(),
            format: z.string(),
            bytes: z.int(),
            width: z.int(),
            height: z.int(),
            sha256: sha256Schema,
          }),
        ),
      }),
    ),
  })
  .meta({ id: 'Report' });

/** One event of a run's stream: the run as it is now, and the pictures that changed since the last one. */
export const runEventSchema = z
  .strictObject({
    run: runSchema,
    changed: z.array(runItemSchema),
    slots: z.int(),
    /** Why nothing goes on although something waits; empty where there is no reason. */
    trouble: z.string(),
  })
  .meta({ id: 'RunEvent' });
