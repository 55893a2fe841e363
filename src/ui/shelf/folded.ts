import type { UploadState } from '../../bench/upload';

/** From so many on those that came in without trouble are told of in one line. */
const MANY = 4;

interface Entry {
  readonly state: UploadState;
}

/** Which entries are listed one by one, and which are folded into one line. */
export interface Folded<T> {
  readonly folded: readonly T[];
  readonly listed: readonly T[];
}

/** Folds what came in without trouble, where that is many; what is on its way or needs a look is listed. */
export function fold<T extends Entry>(entries: readonly T[]): Folded<T> {
  const folded = entries.filter(({ state }) => isPlain(state));
  if (folded.length < MANY) return { folded: [], listed: entries };
  return { folded, listed: entries.filter(({ state }) => !isPlain(state)) };
}

/** "38 brought in, 2 could not be used" */
export function foldedWords(folded: readonly Entry[], listed: readonly Entry[]): string {
  const refused = listed.filter(({ state }) => state.kind === 'refused').length;
  const came = folded.reduce((sum, { state }) => sum + (state.kind === 'done' ? state.arrived.length : 0), 0);
  return `${came} brought in${refused > 0 ? `, ${refused} could not be used` : ''}`;
}

/** Whether a picture is on the Shelf and there is nothing more to say of it. */
function isPlain(state: UploadState): boolean {
  if (state.kind !== 'done') return false;
  return state.arrived.every(({ piece, known, healed }) => !known && !healed && piece.notes.length === 0);
}
