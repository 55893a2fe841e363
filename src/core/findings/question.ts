import { MATTERS_SHARE } from '../decision/area';
import type { AlphaCounts } from '../stages/deliver/finish';
import type { PocketPlace } from './pockets';

/** The areas of the one question about a picture: all that are not sure, where a wrong answer matters; none elsewhere. */
export function questionOf(
  pockets: readonly PocketPlace[],
  { partly, opaque }: AlphaCounts,
): readonly PocketPlace[] {
  const open = pockets.filter(({ sure }) => !sure);
  const pixels = open.reduce((sum, place) => sum + place.pixels, 0);
  return pixels > MATTERS_SHARE * (opaque + partly) ? open : [];
}

/** What all of these areas have in common now; null where some go and some stay. */
export function answerNow(areas: readonly PocketPlace[]): 'keep' | 'clear' | null {
  const going = areas.filter(({ goes }) => goes).length;
  return going === 0 ? 'keep' : going === areas.length ? 'clear' : null;
}

/** The question in words: "5 white areas: keep or clear?" `color` is the background's name, null for a pattern. */
export function questionWords(areas: readonly PocketPlace[], color: string | null): string {
  const isShade = areas.every(({ why }) => why === 'shade');
  const word = isShade ? ' shaded' : color === null ? '' : ` ${color.toLowerCase()}`;
  return `${areas.length}${word} ${areas.length === 1 ? 'area' : 'areas'}: keep or clear?`;
}
