import { writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import sharp from 'sharp';
import { inspectPages } from '../../codec/inspect';
import { decodeMaster, decodePicture, transparencyNotes, type DamagePolicy } from '../../codec/decode';
import type { Verified } from '../../codec/outputs/output-codec';
import { writeOutput } from '../../codec/outputs/write-output';
import { boardSteps, renderBoard, sceneOfSource, type Board } from '../../core/board';
import { untouchedCut } from '../../core/cut/parse';
import type { Page } from '../../core/cut/page';
import { KeptDecisions } from '../../core/decision/kept-decisions';
import { bearingsOf } from '../../core/findings/bearings';
import { renderCheckable } from '../../core/findings/check-cut';
import { openFindings } from '../../core/findings/fixes';
import { runToEnd } from '../../core/numeric/steps';
import { packCutout } from '../../core/packed-cutout';
import type { Raster } from '../../core/raster/raster';
import type { Cutout } from '../../core/render';
import { assertSomethingLeft, type AlphaCounts } from '../../core/stages/deliver/finish';
import type { Output } from '../../core/stages/deliver/output-settings';
import { STAGES } from '../../core/stages/stages';
import type { Source } from '../../core/stages/prepare/prepare';
import { firstCut } from './first-cut';
import { hashFile } from './hash-file';
import { pixelHashOf } from './pixel-hash';
import { startHelpers, usualHelpers, type HelperThreads } from './helpers';
import { OpenPicture, type PieceInput } from './open-picture';
import { POOL_THREADS } from './pool-threads';
import { proposedAnew, type AnewInput } from './anew-task';
import { carryOut, type RoutineInput } from './routine-task';
import { isBehind } from './behind';
import { fontTask } from './mark-task';
import { shapeTexts } from './shape-texts';
import { smallPicture } from './small-picture';
import {
  groundPicture,
  groundTask,
  placedPicture,
  proofFile,
  seenOn,
  type PlacedInput,
  type ProofInput,
  type SeenInput,
} from './proof-tasks';
import { writeThumbnail } from './write-thumbnail';

/** What the worker threads can be asked to do. */
export const TASKS = {
  deliver,
  thumbnail,
  check,
  ready,
  look,
  anew: (input: AnewInput) => proposedAnew(picture, input),
  inspect,
  leaf,
  master,
  routine: (input: RoutineInput) => carryOut(picture, input),
  ground: groundTask,
  'ground-picture': groundPicture,
  placed: (input: PlacedInput) => placedPicture(picture, input),
  seen: (input: SeenInput) => seenOn(picture, input),
  proof: (input: ProofInput) => proofFile(picture, input),
  font: fontTask,
  small: smallPicture,
  shape: shapeTexts,
} as const;

export type TaskKind = keyof typeof TASKS;

/** What a task is given, and what comes of it. */
export type InputOf<K extends TaskKind> = Parameters<(typeof TASKS)[K]>[0];
export type ResultOf<K extends TaskKind> = Awaited<ReturnType<(typeof TASKS)[K]>>;

export interface Task {
  readonly kind: TaskKind;
  readonly input: InputOf<TaskKind>;
}

export interface LookInput {
  readonly path: string;
  readonly name: string;
  readonly page: Page;
  readonly damaged: DamagePolicy;
  /** Where to write the thumbnail of the cut that is proposed; null for none. */
  readonly thumbnailPath: string | null;
  /** Without this nothing is cleared at first. */
  readonly proposes: boolean;
}

/** Pages of a file of which something is wanted. */
export interface LeafInput {
  readonly path: string;
  readonly name: string;
  readonly pages: readonly Page[];
}

/** A kept picture, and which of its pages. */
export interface MasterInput {
  readonly path: string;
  readonly name: string;
  readonly page: Page;
}

export interface DeliverInput extends PieceInput {
  /** The original's resolution. */
  readonly dpi: number | null;
  readonly output: Output;
  readonly outPath: string;
}

export interface DeliverResult {
  /** What the file was found to hold when it was read back. */
  readonly verified: Verified;
  /** Pixels of the file per pixel of the cutout. */
  readonly scale: number;
  readonly bytes: number;
  /** SHA-256 of the file, hex. */
  readonly fileSha256: string;
  /** SHA-256 of the cutout's RGBA bytes, hex: what the bench computes of what it shows. */
  readonly pixelSha256: string;
  readonly alpha: AlphaCounts;
  /** What was decided anew for it, to be kept with the piece. */
  readonly decisions: Uint8Array | null;
}

/** A piece whose cut is rendered at full size. */
export interface RenderInput extends PieceInput {
  /** Where to write the cutout, packed, for the bench to open the piece with. */
  readonly cutoutPath: string;
}

export interface ThumbnailInput extends PieceInput {
  readonly outPath: string;
}

/** The threads that help this one, started for the first large picture. */
let started: HelperThreads | null | undefined;
const picture = new OpenPicture(() =>
  isBehind() ? null : ((started ??= startHelpers(usualHelpers(POOL_THREADS)))?.crew ?? null),
);

/** Renders a cut at full size, writes it as one of its outputs to `outPath`, syncs it, reads it back and compares. */
export async function deliver(input: DeliverInput): Promise<DeliverResult> {
  const board = await picture.board(input);
  const cutout = runToEnd(renderBoard(board, input.cut));
  assertSomethingLeft(cutout.alpha, input.originalName);
  const written = await writeOutput(cutout.raster, input.cut, input.output, input.dpi, input.outPath);
  const { bytes, sha256 } = await hashFile(input.outPath);
  return {
    ...written,
    bytes,
    fileSha256: sha256,
    pixelSha256: pixelHashOf(cutout.raster),
    alpha: cutout.alpha,
    decisions: takenOn(board),
  };
}

/** What a file says of itself and of some of its pages; in a thread, since readers of some formats keep one busy. */
async function inspect({ path, name, pages }: LeafInput) {
  return inspectPages(path, name, pages);
}

/** Sides of the small pictures by which a page is chosen, and of what they are made of. */
export const LEAF_PX = 160;

/** Small pictures of pages as WebP, in base 64; null for those that cannot be decoded. */
async function leaf({ path, name, pages }: LeafInput): Promise<(string | null)[]> {
  const pictures: (string | null)[] = [];
  for (const page of pages) pictures.push(await leafOf(path, name, page).catch(() => null));
  return pictures;
}

async function leafOf(path: string, name: string, page: Page): Promise<string> {
  const { width, height, data } = await decodeMaster(path, name, page);
  const small = await sharp(data, { raw: { width, height, channels: 4 } })
    .resize(LEAF_PX, LEAF_PX, { fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 70 })
    .toBuffer();
  return small.toString('base64');
}

/** Decodes a page, for the bench. */
async function master({ path, name, page }: MasterInput): Promise<Raster> {
  return decodeMaster(path, name, page);
}

/** Renders a cut at about shelf size and writes it as lossy WebP with alpha to `outPath`. */
async function thumbnail(input: ThumbnailInput): Promise<{ readonly ready: true }> {
  const board = await picture.board(input);
  await writeThumbnail(board, input.cut, input.outPath);
  return { ready: true };
}

/** Renders a cut at full size and keeps it, for a delivery that is likely to follow. */
export async function ready({ cutoutPath, ...piece }: RenderInput) {
  const board = await picture.board(piece);
  const packed = await writePacked(board, runToEnd(renderBoard(board, piece.cut)), cutoutPath);
  return { packed, decisions: takenOn(board) };
}

/** Renders a cut at full size and counts its open findings by kind; with what was decided anew. */
async function check({ cutoutPath, ...piece }: RenderInput) {
  const { cut } = piece;
  const board = await picture.board(piece);
  const { check: findings, cutout } = renderCheckable(board, cut, board);
  const open = openFindings(findings().findings, cut, bearingsOf(board.frame, board.original));
  const counts: Readonly<Record<string, number>> = Object.fromEntries(
    open.map(({ kind, count }) => [kind, count]),
  );
  return { counts, decisions: takenOn(board), packed: await writePacked(board, cutout, cutoutPath) };
}

/** What was decided anew on a board; null where nothing was. */
function takenOn({ decisions }: Board): Uint8Array | null {
  return decisions?.packTaken() ?? null;
}

/** How hard to press: the runs are short already. */
const LEVEL = 1;

/** Writes a cutout beside its picture, packed, as gzip; says false where that is not worth it or did not work. */
async function writePacked({ scene, window }: Board, cutout: Cutout, path: string): Promise<boolean> {
  const packed = packCutout(cutout, scene.raster, window);
  if (!packed) return false;
  try {
    await writeFile(path, await promisify(gzip)(packed, { level: LEVEL }));
    return true;
  } catch {
    return false;
  }
}

/**
 * Decodes a picture, which proves that it can be, proposes a first cut for it, and writes its thumbnail while it is in
 * memory; with what was decided for both. Throws `damaged-picture`. A proposal that fails is no reason to refuse the picture: it comes without one, and
 * `trouble` says why, for the log; a thumbnail that fails is made again when it is asked for.
 */
async function look(input: LookInput) {
  const { raster, notes } = await decodePicture(input.path, input.name, input.damaged, input.page);
  const { width, height } = raster;
  const decisions = new KeptDecisions();
  const source: Source = { original: raster, decisions };
  const proposal = input.proposes ? firstCut(sceneOfSource(source), input.page) : NOT_LOOKED_FOR;
  let pictured = false;
  if (input.thumbnailPath !== null) {
    const cut = proposal.cut ?? untouchedCut(STAGES, input.page);
    const board = runToEnd(boardSteps(source, cut));
    await writeThumbnail(board, cut, input.thumbnailPath).then(
      () => (pictured = true),
      () => undefined,
    );
  }
  // What is missing of a damaged picture is transparent too, which nobody brought.
  const clear = input.damaged === 'refuse' ? transparencyNotes(raster) : [];
  const told = { width, height, notes: [...notes, ...clear], ...proposal, pictured };
  return { ...told, decisions: decisions.packTaken() };
}

/** What is said of a picture for which no cut was looked for. */
const NOT_LOOKED_FOR = { cut: null, reason: 'It came to be marked: nothing is cleared.', trouble: null };
