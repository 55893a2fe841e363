import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { KenosisError } from '../../core/errors';
import { NO_STEPS, stepsOf } from '../../core/routine/settings';
import type { JobEngine, RoutineJob } from '../../engine/node/jobs/job-engine';
import { markKey } from '../../engine/node/mark-task';
import type { MadeFile, RoutineResult } from '../../engine/node/routine-task';
import { isDelivered, markedAs, type NewDelivery } from '../../storage/deliveries';
import { currentCut, getPiece, setFindings, type CutState, type Piece } from '../../storage/pieces';
import { settleItem, type Run, type RunItem } from '../../storage/runs';
import { keepDecisions, keptDecisions } from '../decisions';
import type { House } from '../rooms';
import { thumbnailKey } from '../thumbnail';
import { materialFiles } from '../watermarks/materials';

type Needs = Pick<House, 'database' | 'files' | 'originals' | 'locks'>;

/**
 * Carries a run's routine out on one of its pictures, keeps the files, and writes down what became of it. Throws what reading,
 * clearing and writing throw; then nothing of it is delivered.
 */
export async function carryOutItem(
  house: Needs,
  engine: JobEngine,
  item: RunItem,
  run: Run,
  signal: AbortSignal,
): Promise<RunItem> {
  const piece = await getPiece(house.database, item.pieceId!);
  if (piece.trashed)
    throw new KenosisError('not-found', `"${item.name}" is in the trash. Bring it back and try again.`);
  const state = await currentCut(house.database, piece.id);
  const before = run.routine.mark && (await markedAs(house.database, piece.id, markKey(run.routine.mark)));
  if (before)
    return settleItem(house.database, item.id, {
      state: 'skipped',
      message: `It was marked by the same before, as "${before}".`,
      sure: true,
      findings: null,
      ms: null,
      laid: null,
      deliveries: [],
    });
  const job = await jobOf(house, item, run, piece, state);
  const result = await engine.carryOut(job, signal);
  const place = (made: string) => path.join(job.input.into.folder, made);
  try {
    const settled = await settle(house, item, run, { piece, state, result, place });
    // It is written down: whatever the engine says now makes it no failure.
    await engine.forget(job.id).catch(() => undefined);
    return settled;
  } finally {
    for (const { made } of result.files) await house.files.drop(place(made));
    for (const made of [result.thumbnail, result.decisions])
      if (made !== null) await house.files.drop(place(made));
  }
}

async function jobOf(
  { database, files, originals }: Needs,
  item: RunItem,
  { routine, purpose, date }: Run,
  piece: Piece,
  { cut, revision }: CutState,
): Promise<RoutineJob> {
  // What somebody looked at, and perhaps put right by hand, stays as it is; only its files are those of the routine.
  const { deliver, mark } = routine;
  const steps = item.accepted ? { ...NO_STEPS, deliver, mark } : stepsOf(routine);
  const incoming = await files.incomingPath();
  return {
    id: `i${item.id}-r${revision}-${item.accepted ? 'accepted' : 'asked'}`,
    pixels: piece.width * piece.height,
    input: {
      path: await originals.pathOf(piece),
      bytesKey: piece.sha256,
      name: piece.name,
      piece: { cut, dpi: piece.dpi, decisionsPath: await keptDecisions({ files }, piece) },
      steps,
      materials: await materialFiles({ database, files }, mark && mark.watermark),
      notSure: item.accepted ? 'deliver' : routine.notSure,
      findings: item.accepted ? 'deliver' : routine.findings,
      layOnly: purpose === 'lay',
      date,
      into: { folder: path.dirname(incoming), before: '', after: '' },
      pictured: true,
    },
  };
}

interface Made {
  readonly piece: Piece;
  readonly state: CutState;
  readonly result: RoutineResult;
  readonly place: (made: string) => string;
}

async function settle(house: Needs, item: RunItem, run: Run, made: Made): Promise<RunItem> {
  const { database, files } = house;
  const { piece, state, result, place } = made;
  const { outcome, findings } = result;
  const keys = [...new Set(result.files.map(({ sha256 }) => `delivery ${sha256}`))].sort();
  const write = () => keepAndWriteDown(house, item, run, made);
  const settled = keys.length === 0 ? await write() : await house.locks.acquire(keys, write);
  const revision = settled.revision ?? state.revision;
  // What follows can be made again, and is no reason to do the picture again.
  if (outcome !== 'laid' && !run.routine.mark)
    await setFindings(database, piece.id, revision, findings).catch(() => undefined);
  if (result.decisions !== null)
    await readFile(place(result.decisions))
      .then((taken) => keepDecisions(house, piece, taken))
      .catch(() => undefined);
  if (result.thumbnail !== null)
    await files
      .keep(place(result.thumbnail), 'thumbnails', thumbnailKey(piece, revision))
      .catch(() => undefined);
  return settled;
}

/** Keeps the files and writes down whose they are. Until that is written nothing names them; if it cannot be, they go. */
async function keepAndWriteDown(
  { database, files }: Needs,
  item: RunItem,
  run: Run,
  { piece, state, result, place }: Made,
): Promise<RunItem> {
  const { outcome, why, sure, findings, ms, cut } = result;
  await getPiece(database, piece.id);
  try {
    for (const { made, sha256 } of result.files) await files.keep(place(made), 'deliveries', sha256);
    return await settleItem(database, item.id, {
      state: outcome,
      // What was not sure of it has been looked at.
      message: item.accepted && outcome === 'delivered' ? '' : why,
      sure,
      findings: outcome === 'laid' || run.routine.mark ? null : findings,
      ms,
      // A mark changes nothing of how a picture is cut.
      laid: run.routine.mark ? null : { pieceId: piece.id, after: state.revision, cut, label: labelOf(run) },
      deliveries: result.files.map((file) => deliveryOf(file, piece, state.revision, run)),
    });
  } catch (error) {
    for (const { sha256 } of result.files)
      if (!(await isDelivered(database, sha256))) await files.remove('deliveries', sha256);
    throw error;
  }
}

function labelOf({ routine, purpose }: Run): string {
  return purpose === 'lay' ? routine.name : `routine ${routine.name}`;
}

function deliveryOf(file: MadeFile, piece: Piece, revision: number, { routine }: Run): NewDelivery {
  const { verified, scale, alpha, cut, name, format, sha256, pixelSha256, bytes } = file;
  const { width, height, dpi, ...found } = verified;
  return {
    pieceId: piece.id,
    revision,
    cut: JSON.stringify(cut),
    fileName: name,
    format,
    sha256,
    pixelSha256,
    bytes,
    width,
    height,
    dpi,
    ...alpha,
    findings: { ...found, scale, ...(routine.mark ? { mark: markKey(routine.mark) } : {}) },
  };
}
