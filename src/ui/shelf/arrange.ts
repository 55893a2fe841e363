import type { ShelfPieceFacts } from '../../bench/api';
import { countOf } from '../../core/findings/counts';

export type Order = 'newest' | 'oldest' | 'name' | 'findings';
export type Kind = 'all' | 'untouched' | 'cut' | 'delivered' | 'findings' | 'clean';

/** Which pieces are shown, and in which order. */
export interface Arrangement {
  readonly order: Order;
  readonly kind: Kind;
  /** What names must contain, every word of it. */
  readonly search: string;
}

export const AS_THEY_CAME: Arrangement = { order: 'newest', kind: 'all', search: '' };

/** Pieces as a person wants to see them. Names are compared as people sort them, with numbers by their value. */
export function arranged(pieces: readonly ShelfPieceFacts[], how: Arrangement): ShelfPieceFacts[] {
  const words = how.search.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = pieces.filter((piece) => {
    const name = piece.name.toLowerCase();
    return words.every((word) => name.includes(word)) && isOf(piece, how.kind);
  });
  return shown.sort(ORDERS[how.order]);
}

function isOf({ state, findings }: ShelfPieceFacts, kind: Kind): boolean {
  if (kind === 'all') return true;
  if (kind === 'findings') return findings !== null && countOf(findings) > 0;
  if (kind === 'clean') return findings !== null && countOf(findings) === 0 && state !== 'untouched';
  return state === kind;
}

const names = new Intl.Collator('en-US', { numeric: true, sensitivity: 'base' });
const byName = (one: ShelfPieceFacts, other: ShelfPieceFacts) => names.compare(one.name, other.name);
const byDate = (one: ShelfPieceFacts, other: ShelfPieceFacts) =>
  one.createdAt < other.createdAt ? -1 : one.createdAt > other.createdAt ? 1 : 0;
const found = ({ findings }: ShelfPieceFacts) => (findings ? countOf(findings) : -1);

const ORDERS: Readonly<Record<Order, (one: ShelfPieceFacts, other: ShelfPieceFacts) => number>> = {
  newest: (one, other) => byDate(other, one) || byName(one, other),
  oldest: (one, other) => byDate(one, other) || byName(one, other),
  name: (one, other) => byName(one, other) || byDate(other, one),
  findings: (one, other) => found(other) - found(one) || byName(one, other),
};
