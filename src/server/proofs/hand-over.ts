import { KenosisError } from '../../core/errors';
import type { Ground } from '../../core/proof/settings';
import { lookWords, remarksOn, type Measured, type Remark } from '../../core/proof/seen';
import { inLook } from '../../core/proof/looks';
import { AS_IT_IS, type Output } from '../../core/stages/deliver/output-settings';
import type { LaidPiece } from '../../engine/node/proof-tasks';
import { currentCut, getPiece } from '../../storage/pieces';
import { addProofFile, getProof, type ProofFile } from '../../storage/proofs';
import { keepRecorded } from '../deliver-piece';
import { pieceInput } from '../decisions';
import type { House } from '../rooms';
import { groundFactsOf, groundFileOf } from './ground-files';

/** What is wanted of a ground: as a picture, the PDF itself, or a piece alone as large as it is placed. */
export interface HandOver {
  readonly ground: string;
  readonly format: 'png' | 'jpeg' | 'pdf' | 'piece';
  /** Pixels per inch of what lies on paper. */
  readonly dpi: number;
  /** Which placement, for a piece alone. */
  readonly placement: string | null;
}

/** A ground of a proof with the pieces that are laid on it. Throws `not-found`. */
async function laidOf(house: House, proofId: number, groundId: string) {
  const { proof, name } = await getProof(house.database, proofId);
  const ground = proof.grounds.find(({ id }) => id === groundId);
  if (!ground) throw new KenosisError('not-found', 'This ground is not in the proof any more.');
  const laid = await Promise.all(ground.placed.map((placed) => laidPiece(house, placed)));
  const facts = await groundFactsOf(house, ground.source);
  const { file, path, pixels } = await groundFileOf(house, ground.source);
  const surface = { width: facts.width, height: facts.height, line: facts.line };
  const all = laid.reduce((sum, one) => sum + one.pixels, pixels);
  const input = { path, ground: file, unit: facts.unit, surface, laid: laid.map(({ piece }) => piece) };
  return { ground, facts, input, pixels: all, name };
}

async function laidPiece(
  house: House,
  { id, piece: pieceId, ...placement }: Ground['placed'][number],
): Promise<{ readonly piece: LaidPiece; readonly pixels: number }> {
  const piece = await getPiece(house.database, pieceId).catch((cause: unknown) => {
    throw new KenosisError(
      'not-found',
      'A piece that lies on this ground was deleted. Nothing was written. Take it away from the ground, or lay another one.',
      { cause },
    );
  });
  const { cut } = await currentCut(house.database, pieceId);
  return {
    piece: { ...(await pieceInput(house, piece, cut)), placement },
    pixels: piece.width * piece.height,
  };
}

/** What is measured of a piece at its place, and what is to be said of it. */
export interface SeenPiece extends Measured {
  readonly placement: string;
  readonly remarks: readonly Remark[];
}

/** Measures the pieces on a ground of a proof. */
export async function seenOnGround(
  house: House,
  proofId: number,
  groundId: string,
  signal?: AbortSignal,
): Promise<SeenPiece[]> {
  const { ground, facts, input, pixels } = await laidOf(house, proofId, groundId);
  const measured = await house.pool.run('seen', input, { pixels, signal });
  return measured.map((one, k) => {
    const placed = ground.placed[k]!;
    return { ...one, placement: placed.id, remarks: remarksOn(one, placed, facts.unit) };
  });
}

/** Writes a ground of a proof as a file, reads it back, compares, and records it. Throws what writing throws. */
export async function handOver(
  house: House,
  proofId: number,
  wanted: HandOver,
  signal?: AbortSignal,
): Promise<ProofFile> {
  const opened = await laidOf(house, proofId, wanted.ground);
  const outPath = await house.files.incomingPath();
  try {
    const made =
      wanted.format === 'piece'
        ? await pieceAlone(house, opened, wanted, outPath, signal)
        : await groundWhole(house, opened, wanted.format, wanted.dpi, outPath, signal);
    const record = () => addProofFile(house.database, { proofId, ground: wanted.ground, ...made });
    return await keepRecorded(house, outPath, made.sha256, () => Promise.resolve(record));
  } finally {
    await house.files.drop(outPath);
  }
}

type Opened = Awaited<ReturnType<typeof laidOf>>;

async function groundWhole(
  house: House,
  { input, pixels, facts, name, ground }: Opened,
  format: 'png' | 'jpeg' | 'pdf',
  dpi: number,
  outPath: string,
  signal: AbortSignal | undefined,
) {
  if (format === 'pdf' && !facts.isPage)
    throw new KenosisError(
      'bad-argument',
      `"${facts.name}" is no PDF. Nothing was written. Hand it over as PNG or JPEG.`,
    );
  const made = await house.pool.run(
    'proof',
    { ...input, format, dpi, outPath },
    { pixels: pixels + 2e7, signal },
  );
  const ending = { png: 'png', jpeg: 'jpg', pdf: 'pdf' }[format];
  const stem =
    ground.source.kind === 'pdf' ? facts.name.replace(/\.pdf(, page \d+)?$/i, '') : `${name}, ${facts.name}`;
  const { verified, page, bytes, sha256 } = made;
  return {
    fileName: `${fileStem(stem)}${ground.source.kind === 'pdf' ? '-placed' : ''}.${ending}`,
    format,
    sha256,
    bytes,
    width: verified.width,
    height: verified.height,
    findings: { ...verified, page },
  };
}

/** A piece alone, in its version, exactly as large as it lies there; not turned. */
async function pieceAlone(
  house: House,
  { ground, facts, input }: Opened,
  { placement, dpi }: HandOver,
  outPath: string,
  signal: AbortSignal | undefined,
) {
  const at = ground.placed.findIndex(({ id }) => id === placement);
  if (at < 0) throw new KenosisError('not-found', 'This piece is not on the ground any more.');
  const { width, piece: pieceId } = ground.placed[at]!;
  const { placement: placed, ...laid } = input.laid[at]!;
  const piece = await getPiece(house.database, pieceId);
  const isPaper = facts.unit === 'mm';
  const to = isPaper
    ? ({ kind: 'print', widthMm: width, dpi } as const)
    : ({ kind: 'width', px: Math.max(1, Math.round(width)) } as const);
  const output: Output = { format: 'png', size: { ...AS_IT_IS, trim: true, to } };
  const made = await house.pool.run(
    'deliver',
    { ...laid, cut: inLook(laid.cut, placed), dpi: piece.dpi, output, outPath },
    { signal, pixels: piece.width * piece.height },
  );
  const { verified, bytes, fileSha256, scale } = made;
  const size = isPaper ? `${Math.round(width * 10) / 10}mm-${dpi}dpi` : `${Math.round(width)}px`;
  const version = placed.colorway ?? (placed.light ? 'light' : null);
  const stem = fileStem(laid.originalName.replace(/\.[^.]*$/, ''));
  return {
    fileName: `${stem}${version ? `-${version}` : ''}-${size}.png`,
    format: 'png',
    sha256: fileSha256,
    bytes,
    width: verified.width,
    height: verified.height,
    findings: { ...verified, scale, version: lookWords(placed) },
  };
}

/** Letters that every system takes in names of files. */
function fileStem(name: string): string {
  return (
    name
      .replace(/[^\p{L}\p{N} ._,-]/gu, '')
      .trim()
      .slice(0, 100) || 'proof'
  );
}
