import { z } from 'zod';

/** The smallest and the largest value that a number may have. */
export interface Range {
  readonly min: number;
  readonly max: number;
}

/** Radius of a brush in pixels of the original. */
export const BRUSH_PX = { min: 1, max: 500 } as const;

/** Places that a stroke or a corner may have: also outside of the picture. */
export const PLACE_PX = { min: -1000, max: 1_000_000 } as const;

/** Points that one stroke holds at most. */
export const MOST_POINTS = 2000;

export const within = ({ min, max }: Range) => z.number().min(min).max(max);

export const wholeWithin = ({ min, max }: Range) => z.int().min(min).max(max);

/** A pixel of the original, as fields of a larger shape. */
export const placeShape = { x: z.int().min(0), y: z.int().min(0) };

export const pointSchema = z.tuple([within(PLACE_PX), within(PLACE_PX)]);

export const colorSchema = z.string().regex(/^#[0-9a-f]{6}$/, 'expected a color like #1d2a6b');

export const strokeSchema = z.strictObject({
  radiusPx: within(BRUSH_PX),
  points: z.array(pointSchema).min(1).max(MOST_POINTS),
});

/** A stroke of a brush: a line through points of the original, as wide as twice its radius, with round ends. */
export type Stroke = z.infer<typeof strokeSchema>;
