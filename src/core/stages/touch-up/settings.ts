import { z } from 'zod';
import { colorSchema, placeShape, wholeWithin } from '../shapes';
import { stageOf } from '../stage';

/** Mends that a cut holds at most. */
export const MOST_MENDS = 2000;

/** How far a mend may reach, in pixels of the original: one of residue or halo, and one of an island. */
export const MEND_REACH_PX = { min: 1, max: 1_000_000 } as const;
export const ISLAND_REACH_PX = { min: 1, max: 400 } as const;

export const RESIDUE_ALPHA = { min: 1, max: 64 } as const;

/** Something small that is put right at one place; see docs/cut-format.md for what each does. */
export const mendSchema = z.discriminatedUnion('mend', [
  z.strictObject({ mend: z.literal('speck'), ...placeShape, reachPx: wholeWithin(ISLAND_REACH_PX) }),
  z.strictObject({ mend: z.literal('pinhole'), ...placeShape, reachPx: wholeWithin(ISLAND_REACH_PX) }),
  z.strictObject({
    mend: z.literal('residue'),
    ...placeShape,
    reachPx: wholeWithin(MEND_REACH_PX),
    alpha: wholeWithin(RESIDUE_ALPHA),
  }),
  z.strictObject({
    mend: z.literal('halo'),
    ...placeShape,
    reachPx: wholeWithin(MEND_REACH_PX),
    background: colorSchema,
  }),
]);

export const touchUpSchema = z.strictObject({
  on: z.boolean(),
  mends: z.array(mendSchema).max(MOST_MENDS),
});

export type Mend = z.infer<typeof mendSchema>;
export type TouchUp = z.infer<typeof touchUpSchema>;

/** Nothing put right by hand. */
export const NOTHING_MENDED: TouchUp = { on: true, mends: [] };

const MENDS = {
  speck: 'clear a speck',
  pinhole: 'close a pinhole',
  residue: 'clear residue',
  halo: 'clean the rim',
} as const;

export const TOUCH_UP = stageOf('touchUp', {
  name: 'Touch up',
  doing: 'touching up',
  schema: touchUpSchema,
  untouched: NOTHING_MENDED,
  own: ['mends'],
  describe(before, after) {
    const more = after.mends.length - before.mends.length;
    if (more === 1) return MENDS[after.mends.at(-1)!.mend];
    if (more > 1) return `mend ${more} places`;
    if (more < 0) return more === -1 ? 'delete a mend' : `delete ${-more} mends`;
    return null;
  },
  summary({ mends: { length } }) {
    if (length === 0) return 'nothing mended';
    return length === 1 ? '1 place mended' : `${length} places mended`;
  },
  // Mends of things outside do nothing; what reaches far acts around its place all the same.
  place: (touchUp, placing) => ({
    ...touchUp,
    mends: touchUp.mends
      .filter((one) => one.mend === 'residue' || one.mend === 'halo' || placing.isInside(one))
      .map((one) => placing.at(one)),
  }),
});
