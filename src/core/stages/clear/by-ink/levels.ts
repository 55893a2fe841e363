import type { ByInk } from '../settings';

/** Black, mid and white point. */
export type Levels = Pick<ByInk, 'black' | 'mid' | 'white'>;

/** Steps a unit in which a levels table is kept. */
export const LEVEL_STEPS = 16;

/**
 * Alpha, 0 to 255, for every reading from 0 to 255 in LEVEL_STEPS a unit: 255 at the black point and beyond, 0 at the white
 * point and beyond. Between them, with `t` rising from 0 at white to 1 at black, alpha follows t / (k (1 - t) + 1), the
 * bias curve of Schlick (1994), with k chosen so that the mid point gives one half. With the mid point in the middle, k is 0
 * and alpha follows density: the share of ink in the mixture.
 */
export function levelsTable({ black, mid, white }: Levels): Uint8Array {
  const half = (white - mid) / (white - black);
  const k = (2 * half - 1) / (1 - half);
  return Uint8Array.from({ length: 255 * LEVEL_STEPS + 1 }, (_, at) => {
    const t = Math.min(1, Math.max(0, (white - at / LEVEL_STEPS) / (white - black)));
    return Math.round((255 * t) / (k * (1 - t) + 1));
  });
}

/** The mid point at which alpha follows density. */
export function evenMid(black: number, white: number): number {
  return Math.round(50 * (black + white)) / 100;
}
