import { cutOfRevision, listPieces, setFindings, type ShelfPiece } from '../storage/pieces';
import { keepingCutout, keptCutout } from './cutouts';
import { keepDecisions, pieceInput } from './decisions';
import type { House } from './rooms';

/** Pieces whose checks failed, with the revision: not tried again. */
const failed = new Set<string>();

let running: Promise<void> | null = null;

/** Whether a piece's revision in force is still to be checked. */
export function isToBeChecked(piece: ShelfPiece): boolean {
  return piece.findings === null && !failed.has(keyOf(piece));
}

/** Checks the pieces on the Shelf whose revision in force was not checked yet, one after another, in the background. */
export function checkPieces(house: House): Promise<void> {
  running ??= checkAll(house).finally(() => (running = null));
  return running;
}

async function checkAll(house: House): Promise<void> {
  for (;;) {
    const waiting = (await listPieces(house.database)).filter(isToBeChecked);
    if (waiting.length === 0) return;
    for (const piece of waiting) await checkPiece(house, piece);
  }
}

/** Opened with its cutout at hand, a piece is whole at once; of so many pieces, the newest. */
const MOST_AT_HAND = 24;

/**
 * Renders cutouts that nobody has asked for yet, one after another, so that pieces which came with their findings, or were rendered by
 * an earlier program, open as fast as others.
 */
export async function renderAhead(house: House): Promise<void> {
  await checkPieces(house);
  for (const piece of (await listPieces(house.database)).slice(0, MOST_AT_HAND)) {
    if (failed.has(keyOf(piece)) || (await keptCutout(house, piece.id, piece.revision))) continue;
    await checkPiece(house, piece);
  }
}

async function checkPiece(house: House, piece: ShelfPiece): Promise<void> {
  const { id, name, revision, width, height } = piece;
  try {
    const cut = await cutOfRevision(house.database, id, revision);
    const input = await pieceInput(house, piece, cut);
    const { counts, decisions } = await keepingCutout(house, piece, revision, (cutoutPath) =>
      house.pool.run('check', { ...input, cutoutPath }, { pixels: width * height }),
    );
    await keepDecisions(house, piece, decisions);
    await setFindings(house.database, id, revision, counts);
  } catch (error) {
    failed.add(keyOf(piece));
    console.error(`"${name}" could not be checked:`, error);
  }
}

function keyOf({ id, revision }: { readonly id: string; readonly revision: number }): string {
  return `${id}-${revision}`;
}
