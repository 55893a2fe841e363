import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import { decodeMaster } from '../../codec/decode';
import { boardSteps, type Board } from '../../core/board';
import { pageKey, type Page } from '../../core/cut/page';
import type { Cut } from '../../core/cut/schema';
import { KeptDecisions } from '../../core/decision/kept-decisions';
import { runToEnd } from '../../core/numeric/steps';
import { FEWEST_HELPED_PIXELS, onSharedMemory, type Crew } from '../threads/crew';
import { prepareKey, type Source } from '../../core/stages/prepare/prepare';

/** A picture nobody asked for during this time is closed; larger ones are never left open. */
const OPEN_MS = 15_000;
const MOST_PIXELS = 40_000_000;

/** A piece with one of its cuts. */
export interface PieceInput {
  readonly originalPath: string;
  readonly originalName: string;
  readonly cut: Cut;
  /** What was decided of it before, as gzip; null where nothing was. */
  readonly decisionsPath: string | null;
}

interface Opened {
  /** Its path, its page, and where what was decided of it lies: pieces may share an original. */
  readonly key: string;
  readonly source: Source;
  readonly decisions: KeptDecisions;
  board: Board | null;
}

/** What cannot be read is decided anew. */
async function addKept(decisions: KeptDecisions, path: string): Promise<void> {
  try {
    decisions.add(await promisify(gunzip)(await readFile(path)));
  } catch (error) {
    console.error(`${path} cannot be read; the piece is decided anew:`, error);
  }
}

/** The board of a cut; the one that is there where the cut prepares the picture the same. */
function boardOn(opened: Opened, cut: Cut): Board {
  const { source, board } = opened;
  if (board?.key === prepareKey(cut, source.original)) return board;
  return (opened.board = runToEnd(boardSteps(source, cut)));
}

/**
 * The picture that a thread worked on last: the next task on it begins where the one before ended, not with decoding.
 * Originals are named by their bytes, so that a path always means the same picture.
 */
export class OpenPicture {
  private opened: Opened | null = null;
  private timer: NodeJS.Timeout | null = null;

  /** `helpers` are asked for when a large picture is opened. */
  constructor(private readonly helpers: () => Crew | null = () => null) {}

  /** The board of a piece's cut, by what was decided of it before. Throws `damaged-picture`. */
  async board({ originalPath, originalName, cut, decisionsPath }: PieceInput): Promise<Board> {
    return boardOn(await this.at(originalPath, originalName, cut.page, decisionsPath), cut);
  }

  /**
   * The picture at a path whose file may be another one the next time: `bytesKey` is a name of its bytes. What is computed of it
   * is kept with the source; boards of cuts are made by `board`.
   */
  async source(
    bytesKey: string,
    path: string,
    name: string,
    page: Page,
    decisionsPath: string | null,
  ): Promise<{ readonly source: Source; board(cut: Cut): Board }> {
    const opened = await this.at(path, name, page, decisionsPath, bytesKey);
    return { source: opened.source, board: (cut) => boardOn(opened, cut) };
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.opened = this.timer = null;
  }

  private async at(
    path: string,
    name: string,
    page: Page,
    decisionsPath: string | null,
    bytesKey = path,
  ): Promise<Opened> {
    const opened = await this.opening(
      path,
      name,
      page,
      `${bytesKey} ${pageKey(page)} ${decisionsPath ?? ''}`,
    );
    // Another thread may have decided more meanwhile.
    if (decisionsPath !== null) await addKept(opened.decisions, decisionsPath);
    return opened;
  }

  private async opening(path: string, name: string, page: Page, key: string): Promise<Opened> {
    if (this.opened?.key !== key) {
      this.close();
      const decoded = await decodeMaster(path, name, page);
      const pixels = decoded.width * decoded.height;
      const helpers = pixels < FEWEST_HELPED_PIXELS ? null : this.helpers();
      const original = helpers ? onSharedMemory(decoded) : decoded;
      const decisions = new KeptDecisions();
      const opened = { key, source: { original, helpers, decisions }, decisions, board: null };
      if (pixels > MOST_PIXELS) return opened;
      this.opened = opened;
    }
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.close(), OPEN_MS);
    this.timer.unref();
    return this.opened;
  }
}
