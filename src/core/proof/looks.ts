import type { Cut } from '../cut/schema';
import { inColorway } from '../stages/ink/colorways';
import type { Look } from './seen';

/** The longer side of the pictures of pieces on grounds, in pixels: sharp on a large screen. */
export const PLACED_PX = 1400;

/** The versions of a piece that can be laid on a ground: as it is cut, light, and its colorways. */
export function looksOf({ ink }: Cut): Look[] {
  const plain: Look[] = [
    { colorway: null, light: false },
    { colorway: null, light: true },
  ];
  return [...plain, ...ink.colorways.map(({ name }) => ({ colorway: name, light: false }))];
}

/** The cut in one of its versions; as it is where it has no colorway of that name any more. */
export function inLook(cut: Cut, { colorway, light }: Look): Cut {
  if (colorway !== null)
    return cut.ink.colorways.some(({ name }) => name === colorway) ? inColorway(cut, colorway) : cut;
  return light && !cut.ink.light ? { ...cut, ink: { ...cut.ink, on: true, light: true } } : cut;
}

export function sameLook(one: Look, other: Look): boolean {
  return one.colorway === other.colorway && one.light === other.light;
}
