import type { DamagePolicy } from '../codec/decode';
import { ONLY_PAGE, type Page } from '../core/cut/page';
import type { Cut } from '../core/cut/schema';
import type { NewPiece } from '../storage/pieces';
import { factsOf } from './page-choice';
import type { House } from './rooms';

/** The backing a new piece is first seen on. */
const FIRST_BACKING = 'checker';

/** What a picture file gives of a piece: its row, and the first cut that is proposed for it, if any. */
export interface ReadPicture {
  readonly fresh: NewPiece;
  readonly cut: Cut | null;
  /** What was decided for it, to be kept with the piece. */
  readonly decisions: Uint8Array | null;
  /** Whether the thumbnail was written that was asked for. */
  readonly pictured: boolean;
}

/** Reads a picture file and looks at the picture. Throws the codes of `inspectPicture` and of the task `look`. */
export async function readPicture(
  { pool }: Pick<House, 'pool'>,
  {
    path,
    name,
    sha256,
    page = ONLY_PAGE,
    damaged,
    thumbnailPath = null,
    proposes = true,
    signal,
  }: {
    readonly path: string;
    readonly name: string;
    readonly sha256: string;
    readonly page?: Page;
    readonly damaged: DamagePolicy;
    /** Where to write a thumbnail of it with that cut. */
    readonly thumbnailPath?: string | null;
    /** Whether a first cut is looked for; a photo that is only to be marked needs none. */
    readonly proposes?: boolean;
    readonly signal?: AbortSignal | undefined;
  },
): Promise<ReadPicture> {
  const [{ format, bytes, dpi, ...facts }] = await factsOf(pool, path, name, [page], signal);
  const pixels = facts.width * facts.height;
  const seen = await pool.run(
    'look',
    { path, name, page, damaged, thumbnailPath, proposes },
    { signal, pixels },
  );
  if (seen.trouble !== null) console.error(`No first cut was proposed for "${name}": ${seen.trouble}`);
  const { width, height, reason, cut, pictured, decisions } = seen;
  const notes = [...facts.notes, ...seen.notes];
  const fresh = { format, bytes, dpi, width, height, sha256, name, backing: FIRST_BACKING, reason, notes };
  return { fresh, cut, pictured, decisions };
}
