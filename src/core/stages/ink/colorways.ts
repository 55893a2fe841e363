import type { Cut } from '../../cut/schema';
import { KenosisError } from '../../errors';

/** The cut in one of its colorways: one color for all. Throws `not-found` where it has none of that name. */
export function inColorway(cut: Cut, name: string): Cut {
  const colorway = cut.ink.colorways.find((one) => one.name === name);
  if (!colorway) {
    const names = cut.ink.colorways.map((one) => one.name).join(', ') || 'none';
    throw new KenosisError('not-found', `colorway: expected one of the cut's (${names}), got "${name}"`);
  }
  return { ...cut, ink: { ...cut.ink, on: true, color: colorway.color, light: false } };
}
