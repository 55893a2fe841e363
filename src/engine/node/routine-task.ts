import { randomUUID } from 'node:crypto';
import { rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { PhotoFormat } from '../../codec/photo/read-photo';
import { transparencyNotes } from '../../codec/decode';
import { inspectPicture } from '../../codec/inspect';
import type { Verified } from '../../codec/outputs/output-codec';
import { writeOutput } from '../../codec/outputs/write-output';
import { proposedWidthPx } from '../../codec/readers/reader';
import { renderBoard, sceneOfSource, type Board } from '../../core/board';
import type { Page } from '../../core/cut/page';
import { untouchedCut } from '../../core/cut/parse';
import type { Cut } from '../../core/cut/schema';
import { isKenosisError, KenosisError } from '../../core/errors';
import { bearingsOf } from '../../core/findings/bearings';
import { renderCheckable } from '../../core/findings/check-cut';
import { openFindings } from '../../core/findings/fixes';
import { questionOf } from '../../core/findings/question';
import { runToEnd } from '../../core/numeric/steps';
import { withProposed } from '../../core/proposal/onto-cut';
import { proposeSteps, type Proposal } from '../../core/proposal/propose';
import { laidOn, needsProposal } from '../../core/routine/lay';
import { AS_FOUND, type Doubt, type RoutineSteps } from '../../core/routine/settings';
import { judge } from '../../core/routine/verdict';
import type { MarkWish } from '../../core/watermark/settings';
import { assertSomethingLeft, type AlphaCounts } from '../../core/stages/deliver/finish';
import { outputIn } from '../../core/stages/deliver/new-output';
import { finishedName, plannedFiles } from '../../core/stages/deliver/planned-files';
import { inColorway } from '../../core/stages/ink/colorways';
import { STAGES } from '../../core/stages/stages';
import type { Source } from '../../core/stages/prepare/prepare';
import { hashFile } from './hash-file';
import { markFile } from './mark-task';
import type { MaterialFiles } from './shape-texts';
import type { OpenPicture, PieceInput } from './open-picture';
import { pixelHashOf } from './pixel-hash';
import { writeThumbnail } from './write-thumbnail';

/** A routine on one picture. Nothing in it but the paths depends on the machine that it is carried out on. */
export interface RoutineInput {
  readonly path: string;
  /** A name of the file's bytes, their SHA-256. */
  readonly bytesKey: string;
  /** What the person calls it. */
  readonly name: string;
  /** Which of its pictures, the resolution that is known of it, and what was decided of it; null: the only one, as the file says. */
  readonly piece: (Pick<PieceInput, 'cut' | 'decisionsPath'> & { readonly dpi: number | null }) | null;
  readonly steps: RoutineSteps;
  /** Where the fonts and cutouts lie that its watermark names. */
  readonly materials: MaterialFiles;
  readonly notSure: Doubt;
  readonly findings: Doubt;
  /** Only the cut is wanted, nothing is written. */
  readonly layOnly: boolean;
  /** Today, as `2026-11-30`, where the person is. */
  readonly date: string;
  /** Where files are written: in this folder, as something unused between these two. */
  readonly into: { readonly folder: string; readonly before: string; readonly after: string };
  /** Whether a thumbnail of the result is wanted too. */
  readonly pictured: boolean;
}

/** A file that was written and read back, under a name that nobody looks for. */
export interface MadeFile {
  /** Its name in the folder that it was written into. */
  readonly made: string;
  /** What it is to be called. */
  readonly name: string;
  readonly format: string;
  readonly colorway: string | null;
  readonly bytes: number;
  readonly sha256: string;
  /** SHA-256 of its cutout's RGBA bytes; of a marked photo, which has none, that of the file. */
  readonly pixelSha256: string;
  readonly alpha: AlphaCounts;
  readonly verified: Verified;
  readonly scale: number;
  /** The cut that it was made by, in its colorway. */
  readonly cut: Cut;
}

/** What became of one picture. */
export interface RoutineResult {
  readonly outcome: 'delivered' | 'held' | 'skipped' | 'laid';
  /** Why it was not delivered, or what is not sure of it; empty where there is nothing to say. */
  readonly why: string;
  readonly sure: boolean;
  /** Open findings by their kinds. */
  readonly findings: Readonly<Record<string, number>>;
  readonly cut: Cut;
  readonly files: readonly MadeFile[];
  /** The name of its thumbnail in the same folder. */
  readonly thumbnail: string | null;
  /** That of what was decided anew of a piece, there too. */
  readonly decisions: string | null;
  readonly notes: readonly string[];
  /** How long it took, in milliseconds. */
  readonly ms: number;
}

const OUTCOMES = { deliver: 'delivered', hold: 'held', skip: 'skipped' } as const;

/**
 * Carries a routine out on one picture: proposes where nothing is cleared yet, lays the settings on, renders at full size, runs
 * the checks, and, unless it is held back, writes every file, synced, and reads it back. Throws what reading, clearing and
 * writing throw, and `not-found` where the file is not there any more; then files it wrote may be left under names of its own.
 */
export async function carryOut(pictures: OpenPicture, input: RoutineInput): Promise<RoutineResult> {
  const begun = performance.now();
  const { path: file, name, piece, bytesKey } = input;
  try {
    if (input.steps.mark !== null) return await marked(input, input.steps.mark, begun);
    const facts = piece ? null : await onlyPicture(file, name);
    const page = piece?.cut.page ?? facts!.page;
    const { source, board: boardOf } = await pictures.source(
      bytesKey,
      file,
      name,
      page,
      piece?.decisionsPath ?? null,
    );
    const dpi = piece ? piece.dpi : facts!.dpi;
    const notes = facts ? [...facts.notes, ...transparencyNotes(source.original)] : [];
    const { cut, noProposal } = laid(source, piece?.cut ?? untouchedCut(STAGES, page), input);
    const board = boardOf(cut);
    const done = input.layOnly
      ? ({
          outcome: 'laid',
          why: noProposal ?? '',
          sure: noProposal === null,
          findings: {},
          files: [],
        } as const)
      : await delivered(board, cut, noProposal, dpi, input);
    const thumbnail = input.pictured ? await pictured(board, cut, input) : null;
    const decisions = piece ? await decided(board, input) : null;
    return { ...done, cut, thumbnail, decisions, notes, ms: Math.round(performance.now() - begun) };
  } catch (error) {
    if (isKenosisError(error) || (await isThere(file))) throw error;
    throw new KenosisError('not-found', `"${name}" is not there any more. Nothing of it was delivered.`, {
      cause: error,
    });
  }
}

/** Marks a photo; its cut, if it has one, stays as it is. */
async function marked(input: RoutineInput, wish: MarkWish, begun: number): Promise<RoutineResult> {
  const { path: file, name, materials, date, into, piece } = input;
  const cut = piece?.cut ?? untouchedCut(STAGES);
  const own = { cut, sure: true, findings: {}, files: [], thumbnail: null, decisions: null, notes: [] };
  const sinceBegun = () => Math.round(performance.now() - begun);
  const plannedIn = (format: PhotoFormat) =>
    plannedFiles(
      { deliver: { fileName: wish.fileName, outputs: [outputIn(format)] }, ink: { colorways: [] } },
      name,
      date,
    )[0]!;
  // A name that is none is refused before anything is made.
  finishedName(plannedIn('jpeg'), 1, 1);
  const made = freshName(input);
  const place = path.join(into.folder, made);
  const result = await markFile({ path: file, name, wish, materials, date, outPath: place });
  if (result.kind === 'has-mark')
    return {
      ...own,
      outcome: 'skipped',
      why: 'It has a mark already and was left as it is.',
      ms: sinceBegun(),
    };
  const { format, verified, report, notes, alpha } = result;
  const { width, height } = verified;
  const isUnclear = report.contrast !== null && report.contrast < wish.watermark.look.contrast.least;
  if (isUnclear && input.notSure !== 'deliver') {
    await rm(place, { force: true });
    const why = notes.join(' ');
    return { ...own, outcome: OUTCOMES[input.notSure], why, sure: false, notes, ms: sinceBegun() };
  }
  const { bytes, sha256 } = await hashFile(place);
  const delivered: MadeFile = {
    made,
    name: finishedName(plannedIn(format), width, height),
    format,
    colorway: null,
    bytes,
    sha256,
    pixelSha256: sha256,
    alpha,
    verified,
    scale: 1,
    cut,
  };
  return {
    ...own,
    outcome: 'delivered',
    why: notes.join(' '),
    sure: !isUnclear,
    files: [delivered],
    notes,
    ms: sinceBegun(),
  };
}

/** The cut of a picture with the routine laid on it, and what the proposal says where it proposed nothing. */
function laid(
  source: Source,
  cut: Cut,
  { steps }: RoutineInput,
): { readonly cut: Cut; readonly noProposal: string | null } {
  const { clear } = steps;
  if (!needsProposal(cut.clear, clear)) return { cut: laidOn(cut, steps), noProposal: null };
  const proposal = runToEnd(
    proposeSteps(sceneOfSource(source), {
      method: clear?.method ?? null,
      channel: clear?.channel ?? null,
      crop: clear?.crop ?? AS_FOUND.crop,
      straighten: clear?.straighten ?? AS_FOUND.straighten,
    }),
  );
  return {
    cut: laidOn(proposal.cut ? withProposed(cut, proposal.cut) : cut, steps),
    noProposal: troubleOf(proposal),
  };
}

function troubleOf({ kind, reason }: Proposal): string | null {
  return kind === 'busy' || kind === 'blank' ? reason : null;
}

/** Renders, checks, and writes the files where the checks allow it. */
async function delivered(
  board: Board,
  cut: Cut,
  noProposal: string | null,
  dpi: number | null,
  input: RoutineInput,
): Promise<Pick<RoutineResult, 'outcome' | 'why' | 'sure' | 'findings' | 'files'>> {
  const { check, cutout } = renderCheckable(board, cut, board);
  if (noProposal === null) assertSomethingLeft(cutout.alpha, input.name);
  const { findings: all, pockets } = check();
  const open = openFindings(all, cut, bearingsOf(board.frame, board.original));
  const findings = Object.fromEntries(open.map(({ kind, count }) => [kind, count]));
  const openAreas = questionOf(pockets, cutout.alpha).length;
  const { sure, outcome, why } = judge({ noProposal, openAreas, findings }, input);
  const seen = { outcome: OUTCOMES[outcome], why, sure, findings };
  if (outcome !== 'deliver') return { ...seen, files: [] };
  const colorways = [null, ...cut.ink.colorways.map((one) => one.name)];
  const files: MadeFile[] = [];
  for (const colorway of colorways) {
    const own = colorway === null ? cut : inColorway(cut, colorway);
    const { raster, alpha } = colorway === null ? cutout : runToEnd(renderBoard(board, own));
    for (const planned of plannedFiles(cut, input.name, input.date)) {
      if (planned.colorway !== colorway) continue;
      // A name that is none is refused before anything is made.
      finishedName(planned, 1, 1);
      const made = freshName(input);
      const place = path.join(input.into.folder, made);
      const { verified, scale } = await writeOutput(raster, own, planned.output, dpi, place);
      const { bytes, sha256 } = await hashFile(place);
      files.push({
        made,
        name: finishedName(planned, verified.width, verified.height),
        format: planned.output.format,
        colorway,
        bytes,
        sha256,
        pixelSha256: pixelHashOf(raster),
        alpha,
        verified,
        scale,
        cut: own,
      });
    }
  }
  return { ...seen, files };
}

async function pictured(board: Board, cut: Cut, input: RoutineInput): Promise<string> {
  const thumbnail = freshName(input);
  await writeThumbnail(board, cut, path.join(input.into.folder, thumbnail));
  return thumbnail;
}

/** Writes what was decided anew. */
async function decided({ decisions }: Board, input: RoutineInput): Promise<string | null> {
  const taken = decisions?.packTaken();
  if (!taken) return null;
  const name = freshName(input);
  await writeFile(path.join(input.into.folder, name), taken);
  return name;
}

function freshName({ into: { before, after } }: RoutineInput): string {
  return `${before}${randomUUID()}${after}`;
}

/** The picture of a file that holds one; of a drawing, as wide as it is proposed. */
async function onlyPicture(file: string, name: string) {
  const { pages, drawn, dpi, notes } = await inspectPicture(file, name, { number: 1, widthPx: 1 });
  if (pages > 1)
    throw new KenosisError(
      'several-pictures',
      `"${name}" holds ${pages} pictures, and a run takes files of one. Bring it to the Shelf and choose there, or name a page: kenosis cut --page N.`,
    );
  const page: Page = { number: 1, widthPx: drawn && proposedWidthPx(drawn) };
  return { page, dpi, notes };
}

async function isThere(file: string): Promise<boolean> {
  return (await stat(file).catch(() => null)) !== null;
}
