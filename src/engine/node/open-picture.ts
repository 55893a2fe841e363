import { decodeMaster } from '../../codec/decode';
import { boardSteps, type Board } from '../../core/board';
import { pageKey, type Page } from '../../core/cut/page';
import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import { FEWEST_HELPED_PIXELS, onSharedMemory, type Crew } from '../threads/crew';
import { prepareKey, type Source } from '../../core/stages/prepare/prepare';

/** A picture nobody asked for during this time is closed; larger ones are never left open. */
const OPEN_MS = 15_000;
const MOST_PIXELS = 40_000_000;

interface Opened {
  /** Its path and page. */
  readonly key: string;
  readonly source: Source;
  board: Board | null;
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

  /** The board of a cut of the picture at a path. Throws `damaged-picture`. */
  async board(path: string, name: string, cut: Cut): Promise<Board> {
    const opened = await this.at(path, name, cut.page);
    const { source, board } = opened;
    if (board?.key === prepareKey(cut, source.original)) return board;
    return (opened.board = runToEnd(boardSteps(source, cut)));
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.opened = this.timer = null;
  }

  private async at(path: string, name: string, page: Page): Promise<Opened> {
    const key = `${path} ${pageKey(page)}`;
    if (this.opened?.key !== key) {
      this.close();
      const decoded = await decodeMaster(path, name, page);
      const pixels = decoded.width * decoded.height;
      const helpers = pixels < FEWEST_HELPED_PIXELS ? null : this.helpers();
      const original = helpers ? onSharedMemory(decoded) : decoded;
      const opened = { key, source: { original, helpers }, board: null };
      if (pixels > MOST_PIXELS) return opened;
      this.opened = opened;
    }
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.close(), OPEN_MS);
    this.timer.unref();
    return this.opened;
  }
}
