import type { Ground, Placement, Proof } from './settings';

/** Says in a few words how `after` differs from `before`: the name of the step in undo and redo. */
export function describeProofChange(before: Proof, after: Proof): string {
  const grounds = after.grounds.length - before.grounds.length;
  if (grounds > 0) return grounds === 1 ? 'add a ground' : `add ${grounds} grounds`;
  if (grounds < 0) return grounds === -1 ? 'take a ground away' : `take ${-grounds} grounds away`;
  const changed = after.grounds.flatMap((ground, k) => {
    const own = before.grounds[k]!;
    return JSON.stringify(own) === JSON.stringify(ground) ? [] : [{ own, ground }];
  });
  const [only] = changed;
  if (!only) return 'no change';
  if (changed.length > 1)
    return changed.some(isReordered) ? 'move a ground' : `change ${changed.length} grounds`;
  return describeGround(only.own, only.ground);
}

const isReordered = ({ own, ground }: { readonly own: Ground; readonly ground: Ground }) =>
  own.id !== ground.id;

function describeGround(before: Ground, after: Ground): string {
  if (JSON.stringify(before.source) !== JSON.stringify(after.source)) return 'change the ground';
  const pieces = after.placed.length - before.placed.length;
  if (pieces > 0) return 'lay a piece';
  if (pieces < 0) return 'take a piece away';
  const changed = after.placed.filter(
    (placed, k) => JSON.stringify(placed) !== JSON.stringify(before.placed[k]),
  );
  if (changed.length > 1) return 'change the order';
  const [now] = changed;
  const was = before.placed.find(({ id }) => id === now?.id);
  return now && was ? describePlacement(was, now) : 'change the order';
}

/** What is said of a change of one piece, by the first of its fields that differs. */
const WORDS: readonly (readonly [keyof Placement, string])[] = [
  ['piece', 'lay another piece'],
  ['colorway', 'another version'],
  ['light', 'another version'],
  ['anchor', 'anchor a piece'],
  ['width', 'resize a piece'],
  ['angleDeg', 'turn a piece'],
  ['opacity', 'change the opacity'],
  ['blend', 'change the blending'],
  ['x', 'move a piece'],
  ['y', 'move a piece'],
];

function describePlacement(before: Placement, after: Placement): string {
  return WORDS.find(([field]) => before[field] !== after[field])?.[1] ?? 'no change';
}
