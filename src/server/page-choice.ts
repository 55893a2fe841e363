import { formatAt, inspectPages, type PictureFacts } from '../codec/inspect';
import { proposedWidthPx, type DrawnPage } from '../codec/readers/reader';
import { readerOf } from '../codec/readers/readers';
import { badArgument } from '../core/errors';
import { PAGE_WIDTH_PX, type Page } from '../core/cut/page';
import type { House } from './rooms';

/** How large pages without pixels are read: as proposed (a scan at its own resolution), at a resolution, or so wide. */
export type DrawnSize =
  | { readonly kind: 'proposed' }
  | { readonly kind: 'dpi'; readonly dpi: number }
  | { readonly kind: 'width'; readonly widthPx: number };

/** What has to be chosen of a file before it can come in. */
export interface PageChoice {
  readonly pages: number;
  /** The first of them; later ones can be chosen too, but are not shown. */
  readonly shown: readonly ShownPage[];
  /** What its first page is drawn as; null where pages have pixels. */
  readonly drawn: (DrawnPage & { readonly proposedWidthPx: number }) | null;
}

export interface ShownPage {
  readonly number: number;
  readonly width: number;
  readonly height: number;
  /** A small picture as WebP in base 64; null where it cannot be read. */
  readonly picture: string | null;
}

/** Pages of which small pictures are made. */
const MOST_SHOWN = 60;

/** How wide a page is drawn for its small picture. */
const SHOWN_WIDTH_PX = 240;

/** What has to be chosen of a file; null where it is one picture of pixels. */
export async function choiceOf(
  house: Pick<House, 'pool'>,
  path: string,
  name: string,
  { pages, signal }: { readonly pages?: readonly number[] | null; readonly signal?: AbortSignal },
): Promise<PageChoice | null> {
  const [facts] = await factsOf(house.pool, path, name, [{ number: 1, widthPx: 1 }], signal);
  if (facts.pages === 1 && !facts.drawn) return null;
  const drawn = facts.drawn && { ...facts.drawn, proposedWidthPx: proposedWidthPx(facts.drawn) };
  // Somebody has chosen already.
  if (pages) return { pages: facts.pages, shown: [], drawn };
  const numbers = Array.from({ length: Math.min(MOST_SHOWN, facts.pages) }, (_, k) => k + 1);
  const leaves: Page[] = numbers.map((number) => ({ number, widthPx: drawn ? SHOWN_WIDTH_PX : null }));
  const pixels = facts.width * facts.height * numbers.length;
  const pictures = await house.pool.run('leaf', { path, name, pages: leaves }, { signal, pixels });
  const smallest = numbers.map((number): Page => ({ number, widthPx: 1 }));
  const sizes = (await factsOf(house.pool, path, name, smallest, signal)).map(proposedSize);
  const shown = numbers.map((number, k) => ({ number, ...sizes[k]!, picture: pictures[k] ?? null }));
  return { pages: facts.pages, shown, drawn };
}

/** Headers are read in less; a file that takes longer is not what it seems to be. */
const INSPECT_LIMIT_MS = 10_000;

/** What a file says of some of its pages. Throws the codes of `inspectPicture`. */
export async function factsOf(
  pool: House['pool'],
  path: string,
  name: string,
  pages: readonly Page[],
  signal?: AbortSignal,
): Promise<[PictureFacts, ...PictureFacts[]]> {
  // Headers that the picture library reads keep nobody waiting; readers of other formats may.
  const format = await formatAt(path);
  if (format === null || readerOf(format) === null)
    return (await inspectPages(path, name, pages)) as [PictureFacts, ...PictureFacts[]];
  const bounds = { signal, pixels: 0, limitMs: INSPECT_LIMIT_MS };
  return (await pool.run('inspect', { path, name, pages }, bounds)) as [PictureFacts, ...PictureFacts[]];
}

function proposedSize({ width, height, drawn }: PictureFacts): { width: number; height: number } {
  if (!drawn) return { width, height };
  const proposed = proposedWidthPx(drawn);
  return { width: proposed, height: Math.max(1, Math.round(proposed * drawn.aspect)) };
}

/** The first page of a file as it is proposed to be read. */
export async function firstPage(pool: House['pool'], path: string, name: string): Promise<Page> {
  const [{ drawn }] = await factsOf(pool, path, name, [{ number: 1, widthPx: 1 }]);
  return { number: 1, widthPx: drawn && proposedWidthPx(drawn) };
}

/** The width at which one page of a drawing is read. Throws `bad-argument` where that is too wide. */
export async function widthFor(
  pool: House['pool'],
  path: string,
  name: string,
  number: number,
  size: DrawnSize,
): Promise<number> {
  const [{ drawn }] = await factsOf(pool, path, name, [{ number, widthPx: 1 }]);
  if (!drawn) throw badArgument('page', 'a drawing', name);
  const width =
    size.kind === 'width'
      ? size.widthPx
      : size.kind === 'dpi'
        ? Math.max(1, Math.round(drawn.widthIn * size.dpi))
        : proposedWidthPx(drawn);
  if (width > PAGE_WIDTH_PX.max) throw badArgument('width', `at most ${PAGE_WIDTH_PX.max} px`, width);
  return width;
}
