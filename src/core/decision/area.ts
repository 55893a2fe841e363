/** Why an enclosed area goes or stays. */
export const AREA_REASONS = [
  'told',
  'same-light',
  'lettering',
  'open-work',
  'other-color',
  'soft-rim',
  'off-pattern',
  'holds-parts',
  'shaded',
  'within',
  'twin',
  'solid',
  'shade',
  'alike',
  'unmarked',
] as const;
export type AreaReason = (typeof AREA_REASONS)[number];

/** A wrong answer about areas that are not sure matters where it would cost this share of what stays. */
export const MATTERS_SHARE = 0.03;

/** So many dots are laid over an area at most, and over the longer side of a picture. */
const MOST_DOTS = 60;
const MOST_DOTS_ACROSS = 110;

/**
 * Places in staggered rows that lie in an area of so many pixels, by which it can be shown without its outline; none where it
 * is too small for them. `long` is the longer side of the picture.
 */
export function dotsIn(
  [left, top, right, bottom]: Area['box'],
  pixels: number,
  long: number,
  isInside: (x: number, y: number) => boolean,
): [number, number][] {
  const apart = Math.max(1, Math.ceil(long / MOST_DOTS_ACROSS), Math.ceil(Math.sqrt(pixels / MOST_DOTS)));
  const dots: [number, number][] = [];
  for (let y = top + (apart >> 1), row = 0; y <= bottom; y += apart, row++)
    for (let x = left + (row % 2 === 0 ? apart >> 1 : 0); x <= right; x += apart)
      if (dots.length < MOST_DOTS && isInside(x, y)) dots.push([x, y]);
  return dots;
}

/** An area inside of the subject that looks like the backdrop. */
export interface Area {
  /** A pixel deep inside of it. */
  readonly x: number;
  readonly y: number;
  readonly pixels: number;
  /** Upper left and lower right pixel. */
  readonly box: readonly [number, number, number, number];
  /** Some of its pixels, spread over it. */
  readonly dots: readonly (readonly [number, number])[];
  readonly goes: boolean;
  readonly why: AreaReason;
  /** Whether it was told, or its look decided, or it lies in lettering; not where what it is part of did. Small ones are. */
  readonly sure: boolean;
}
