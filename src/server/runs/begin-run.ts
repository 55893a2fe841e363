import { mkdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { dayOf } from '../../core/day-of';
import { KenosisError } from '../../core/errors';
import { newRoutine } from '../../core/routine/first-routines';
import { stepsOfCut, type CarriedStage } from '../../core/routine/of-cut';
import { stepsOf, type Routine } from '../../core/routine/settings';
import { currentCut, getPiece, proposedCut } from '../../storage/pieces';
import { getRoutine } from '../../storage/routines';
import { addRun, type Run } from '../../storage/runs';
import type { Marked } from '../../core/watermark/settings';
import { keptDecisions } from '../decisions';
import type { House } from '../rooms';
import { markingRoutine } from '../watermarks/make-watermarks';
import { keptRoutine } from '../watermarks/materials';

/** What is laid on other pieces: the settings of which stages of a piece. */
export interface Laying {
  readonly piece: string;
  readonly stages: readonly CarriedStage[];
}

/** What a run is begun with. */
export interface RunWish {
  readonly routine?: string | Routine | undefined;
  readonly laying?: Laying | undefined;
  /** A watermark of the house, and what is made of the photos. */
  readonly marking?: { readonly watermark: number; readonly marked: Marked } | undefined;
  readonly pieces: readonly string[];
  readonly refused?: readonly { readonly name: string; readonly message: string }[];
  readonly date?: string | undefined;
}

/** Begins a run on pieces of the Shelf. Throws `not-found` for a routine or a piece that is not there; then nothing was begun. */
export async function beginRun(house: House, wish: RunWish): Promise<Run> {
  const routine = wish.laying
    ? await layingRoutine(house, wish.laying)
    : wish.marking
      ? await markingRoutine(house, wish.marking.watermark, wish.marking.marked)
      : await keptRoutine(house, await routineOf(house, wish.routine!));
  const items: { name: string; pieceId: string }[] = [];
  for (const id of new Set(wish.pieces)) {
    if (id === wish.laying?.piece) continue;
    items.push({ name: (await getPiece(house.database, id)).name, pieceId: id });
  }
  const refused = (wish.refused ?? []).map((one) => ({ ...one, pieceId: null }));
  if (items.length + refused.length === 0)
    throw new KenosisError('bad-argument', 'pieces: expected others than the one whose settings are laid');
  const run = await addRun(house.database, {
    routine,
    purpose: wish.laying ? 'lay' : 'deliver',
    date: wish.date ?? dayOf(new Date()),
    items: [...items, ...refused],
  });
  house.runs.wake();
  return run;
}

/** A routine by its name, or as it is. Throws `not-found`. */
export async function routineOf(
  { database }: Pick<House, 'database'>,
  routine: string | Routine,
): Promise<Routine> {
  return typeof routine === 'string' ? getRoutine(database, routine) : routine;
}

/** The routine that lays settings of a piece on others. Throws `not-found`. */
async function layingRoutine(
  { database }: Pick<House, 'database'>,
  { piece: id, stages }: Laying,
): Promise<Routine> {
  const piece = await getPiece(database, id);
  const { cut } = await currentCut(database, id);
  const steps = stepsOfCut(cut, stages, await proposedCut(database, id));
  return newRoutine(`settings of ${piece.name}`.slice(0, 60).trim(), { ...steps, notSure: 'deliver' });
}

/** A small picture of a piece with settings laid on it, which are not kept. */
export interface Preview {
  readonly id: string;
  readonly name: string;
  /** WebP in base 64; null where it could not be made, which `message` explains. */
  readonly picture: string | null;
  readonly message: string;
}

/** Shows what laying settings on some pieces would give; nothing is changed. */
export async function previewLaying(
  house: House,
  laying: Laying,
  pieces: readonly string[],
  signal: AbortSignal,
): Promise<Preview[]> {
  const routine = await layingRoutine(house, laying);
  return Promise.all(
    pieces.map(async (id) => {
      const { name } = await getPiece(house.database, id);
      try {
        const { picture, message } = await previewOf(house, routine, id, signal);
        return { id, name, picture, message };
      } catch (error) {
        if (signal.aborted) throw error;
        return { id, name, picture: null, message: (error as Error).message };
      }
    }),
  );
}

async function previewOf(house: House, routine: Routine, id: string, signal: AbortSignal) {
  const piece = await getPiece(house.database, id);
  const { cut } = await currentCut(house.database, id);
  const { notSure, findings } = routine;
  const folder = path.dirname(await house.files.incomingPath());
  await mkdir(folder, { recursive: true });
  const result = await house.pool.run(
    'routine',
    {
      path: await house.originals.pathOf(piece),
      bytesKey: piece.sha256,
      name: piece.name,
      piece: { cut, dpi: piece.dpi, decisionsPath: await keptDecisions(house, piece) },
      steps: stepsOf(routine),
      materials: {},
      notSure,
      findings,
      layOnly: true,
      date: dayOf(new Date()),
      into: { folder, before: '', after: '' },
      pictured: true,
    },
    { signal, pixels: piece.width * piece.height },
  );
  if (result.decisions !== null) await house.files.drop(path.join(folder, result.decisions));
  const place = path.join(folder, result.thumbnail!);
  try {
    return { picture: (await readFile(place)).toString('base64'), message: result.why };
  } finally {
    await house.files.drop(place);
  }
}
