import { z } from 'zod';

/** The version this program writes. Every other version is refused by `parseCut`. */
export const CUT_VERSION = 1;

/** Limits of the numbers in a cut, shared by the schema, the settings column and the command line. */
export const LIMITS = {
  tolerance: { min: 0, max: 100 },
  areaPx: { min: 1, max: 101 },
  samples: 64,
  fileName: 200,
} as const;

export const reachSchema = z.enum(['joined', 'everywhere']);

export const sampleSchema = z.strictObject({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/, 'expected 1 to 40 letters a-z, digits or hyphens'),
  x: z.int().min(0),
  y: z.int().min(0),
  areaPx: z
    .int()
    .min(LIMITS.areaPx.min)
    .max(LIMITS.areaPx.max)
    .refine((side) => side % 2 === 1, 'expected an odd number'),
  tolerance: z.number().min(LIMITS.tolerance.min).max(LIMITS.tolerance.max),
  reach: reachSchema,
  on: z.boolean(),
});

export const clearSchema = z.strictObject({
  on: z.boolean(),
  samples: z.array(sampleSchema).max(LIMITS.samples),
});

export const deliverSchema = z.strictObject({
  fileName: z.string().min(1).max(LIMITS.fileName).nullable(),
});

export const cutSchema = z.strictObject({
  format: z.literal('kenosis-cut'),
  version: z.literal(CUT_VERSION),
  clear: clearSchema,
  deliver: deliverSchema,
});

export type Reach = z.infer<typeof reachSchema>;
/** A place of background color; see docs/cut-format.md for every field's unit and range. */
export type Sample = z.infer<typeof sampleSchema>;
export type Cut = z.infer<typeof cutSchema>;
