import { z } from 'zod';
import { ANCHORS } from '../stages/deliver/output-settings';
import { LONGEST_COLORWAY } from '../stages/ink/settings';
import { colorSchema, within, wholeWithin } from '../stages/shapes';

/** The version this program writes. */
export const PROOF_VERSION = 1;

export const LONGEST_PROOF_NAME = 80;
export const MOST_GROUNDS = 12;
export const MOST_PLACED = 20;

/** Pages that a PDF may have, and which of them may be a ground. */
export const MOST_PDF_PAGES = 5000;

/** Sides of a ground that is a color, in pixels. */
export const GROUND_PX = { min: 16, max: 8000 } as const;

/** Places and widths on a ground, in its unit. */
export const PLACE = { min: -20_000, max: 20_000 } as const;
export const WIDTH = { min: 0.1, max: 20_000 } as const;
export const ANGLE_DEG = { min: -180, max: 180 } as const;
export const OPACITY = { min: 1, max: 100 } as const;

/** The grounds that ship: what they are called, and how large they are in their unit. */
export const SHIPPED = {
  'letter-a4': { name: 'Letter, A4', unit: 'mm', width: 210, height: 297 },
  'letter-us': { name: 'Letter, US', unit: 'mm', width: 215.9, height: 279.4 },
  slide: { name: 'Slide', unit: 'px', width: 1920, height: 1080 },
  'header-light': { name: 'Site header, light', unit: 'px', width: 1440, height: 480 },
  'header-dark': { name: 'Site header, dark', unit: 'px', width: 1440, height: 480 },
  card: { name: 'Business card', unit: 'mm', width: 85, height: 55 },
  tile: { name: 'Product tile', unit: 'px', width: 1000, height: 1000 },
  thumbnail: { name: 'Video thumbnail', unit: 'px', width: 1280, height: 720 },
} as const satisfies Record<
  string,
  { readonly name: string; readonly unit: 'mm' | 'px'; readonly width: number; readonly height: number }
>;

export type ShippedGround = keyof typeof SHIPPED;

const shippedKeys = Object.keys(SHIPPED) as [ShippedGround, ...ShippedGround[]];

/** What a proof lays pieces on. */
export const groundSourceSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('shipped'), which: z.enum(shippedKeys) }),
  z.strictObject({
    kind: z.literal('pdf'),
    /** SHA-256 of the PDF's bytes. */
    file: z.string().regex(/^[0-9a-f]{64}$/, 'expected a SHA-256'),
    /** Counted from 1; null is the last one. */
    page: wholeWithin({ min: 1, max: MOST_PDF_PAGES }).nullable(),
  }),
  z.strictObject({
    kind: z.literal('picture'),
    /** The piece whose original it is. */
    piece: z.string().regex(/^[0-9a-f]{16}$/, 'expected the id of a piece'),
  }),
  z.strictObject({
    kind: z.literal('color'),
    from: colorSchema,
    /** The color at the other end of a gradient; null for one color. */
    to: colorSchema.nullable(),
    /** Where the gradient runs to: 0 to the right, 90 downward. */
    angleDeg: within(ANGLE_DEG),
    width: wholeWithin(GROUND_PX),
    height: wholeWithin(GROUND_PX),
  }),
]);

/** Where a piece is held: nine places of the ground, or the line on it that is meant for a signature. */
export const anchorSchema = z.enum([...ANCHORS, 'line']);

const idSchema = z.string().regex(/^[a-z0-9]{1,16}$/, 'expected letters and digits');

export const placementSchema = z.strictObject({
  id: idSchema,
  piece: z.string().regex(/^[0-9a-f]{16}$/, 'expected the id of a piece'),
  /** One of the piece's colorways by its name; null: as it is cut. */
  colorway: z.string().max(LONGEST_COLORWAY).nullable(),
  /** Its light version, for dark grounds. */
  light: z.boolean(),
  anchor: anchorSchema,
  /**
   * From the anchor inward, in the ground's unit: from the edges of the ground to those of the piece, from center to center, or
   * from the beginning of the line to the left of the piece, and from the line up to its lower edge.
   */
  x: within(PLACE),
  y: within(PLACE),
  width: within(WIDTH),
  /** Clockwise, about its center. */
  angleDeg: within(ANGLE_DEG),
  /** Percent. */
  opacity: within(OPACITY),
  blend: z.enum(['normal', 'multiply']),
});

export const groundSchema = z.strictObject({
  id: idSchema,
  source: groundSourceSchema,
  /** From the lowest to the uppermost. */
  placed: z.array(placementSchema).max(MOST_PLACED),
});

export const proofNameSchema = z
  .string()
  .trim()
  .min(1, 'name: expected at least one letter')
  .max(LONGEST_PROOF_NAME, `name: expected at most ${LONGEST_PROOF_NAME} letters`)
  .regex(/^[^\p{C}]+$/u, 'name: expected letters that can be seen');

/** A proof as it is kept and as a file; docs/proofs.md describes every field. */
export const proofSchema = z.strictObject({
  format: z.literal('kenosis-proof'),
  version: z.literal(PROOF_VERSION),
  grounds: z
    .array(groundSchema)
    .max(MOST_GROUNDS)
    .refine((all) => new Set(all.map(({ id }) => id)).size === all.length, 'expected each id once')
    .refine(
      (all) => all.every(({ placed }) => new Set(placed.map(({ id }) => id)).size === placed.length),
      'expected each id of a ground once',
    ),
});

export type GroundSource = z.infer<typeof groundSourceSchema>;
export type Anchor = z.infer<typeof anchorSchema>;
export type Placement = z.infer<typeof placementSchema>;
export type Ground = z.infer<typeof groundSchema>;
export type Proof = z.infer<typeof proofSchema>;
