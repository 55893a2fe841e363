import { z } from 'zod';
import { parseCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { KenosisError } from '../core/errors';

/** The document at the top of a bundle. */
export const BUNDLE_DOCUMENT = 'kenosis.json';

/** Where a bundle holds what was decided of the piece at a place in its list, as gzip; where it is not there, it is decided anew. */
export function decisionsEntry(at: number): string {
  return `decisions/${at + 1}.gz`;
}

/** Pieces, and revisions of one, that a bundle holds at most. */
export const MOST_BUNDLED = 1000;
export const MOST_REVISIONS = 20_000;

const text = (most: number) => z.string().max(most);
const moment = z.iso.datetime();

/** What a bundle says of a piece. Cuts are checked one by one, so that errors name them. */
const pieceSchema = z.strictObject({
  name: text(400).min(1),
  original: z.strictObject({
    sha256: z.string().regex(/^[0-9a-f]{64}$/),
    file: z.string().regex(/^originals\/[0-9a-f]{64}\.[a-z0-9]{1,5}$/),
  }),
  backing: text(200),
  reason: text(4000),
  notes: z.array(text(1000)).max(100),
  /** The number of the revision in force. */
  position: z.int().min(0),
  revisions: z
    .array(z.strictObject({ number: z.int().min(0), label: text(200), cut: z.unknown(), createdAt: moment }))
    .min(1)
    .max(MOST_REVISIONS),
  deliveries: z.array(z.looseObject({ fileName: text(400) })).max(100_000),
  createdAt: moment,
});

const bundleSchema = z.strictObject({
  format: z.literal('kenosis-bundle'),
  version: z.literal(1),
  pieces: z.array(pieceSchema).min(1).max(MOST_BUNDLED),
});

export interface BundledRevision {
  readonly number: number;
  readonly label: string;
  readonly cut: Cut;
}

export type BundledPiece = Omit<z.infer<typeof pieceSchema>, 'revisions'> & {
  readonly revisions: readonly BundledRevision[];
};

/**
 * Checks the document of a bundle that came from outside: its fields, every cut in it, that revisions rise from 0, that the one
 * in force is there, and that all are of one page. Throws `bad-bundle` with what is wrong.
 */
export function parseBundle(document: string, name: string): BundledPiece[] {
  let value: unknown;
  try {
    value = JSON.parse(document);
  } catch (cause) {
    throw badBundle(name, `${BUNDLE_DOCUMENT} is no JSON document`, cause);
  }
  const read = bundleSchema.safeParse(value);
  if (!read.success) {
    const issue = read.error.issues[0]!;
    throw badBundle(name, `${BUNDLE_DOCUMENT}, ${issue.path.join('.')}: ${issue.message}`);
  }
  return read.data.pieces.map((piece, k) => checked(piece, name, `pieces.${k}`));
}

function checked(piece: z.infer<typeof pieceSchema>, name: string, where: string): BundledPiece {
  const revisions = piece.revisions.map(({ number, label, cut }, k): BundledRevision => {
    try {
      return { number, label, cut: parseCut(cut) };
    } catch (cause) {
      throw badBundle(name, `${where}.revisions.${k}: ${(cause as Error).message}`, cause);
    }
  });
  if (revisions[0]!.number !== 0) throw badBundle(name, `${where}.revisions: expected 0 first`);
  revisions.forEach(({ number, cut }, k) => {
    if (k > 0 && number <= revisions[k - 1]!.number)
      throw badBundle(name, `${where}.revisions: expected numbers that rise`);
    if (JSON.stringify(cut.page) !== JSON.stringify(revisions[0]!.cut.page))
      throw badBundle(name, `${where}.revisions.${k}: expected the page of the first`);
  });
  if (!revisions.some(({ number }) => number === piece.position))
    throw badBundle(name, `${where}.position: there is no revision ${piece.position}`);
  if (!piece.original.file.startsWith(`originals/${piece.original.sha256}.`))
    throw badBundle(name, `${where}.original: its file is named by another hash`);
  return { ...piece, revisions };
}

/** The error for a bundle that is none, or not whole. */
export function badBundle(name: string, what: string, cause?: unknown): KenosisError {
  return new KenosisError('bad-bundle', `"${name}" is no bundle that can be taken: ${what}.`, { cause });
}
