import type { Help, Helpers, TileTask } from '../../core/helpers';
import { CELL_PX } from '../../core/numeric/cells';
import { BELL, ENDED, FREE, FULL, NEXT, SLOTS_EACH, slotAt, type SentTask } from './shared';

/** A thread that can be given tasks. */
export interface HelperThread {
  post(task: SentTask): void;
}

/** Tasks of fewer tiles are done before anybody else has begun. */
const FEWEST_TILES = 8;

/** How long one waits for a sign of life at a time, and at most. */
const WAIT_MS = 20;
const MOST_WAIT_MS = 10_000;

/** What is on shared memory, by what it was copied from. */
type Copies = WeakMap<object, SharedArrayBuffer>;

/** Threads that help one other, on memory that all share. */
export class Crew implements Helpers {
  private readonly copies: Copies = new WeakMap();
  private readonly numbers = new WeakMap<object, number>();
  private pictures = 0;

  constructor(private readonly threads: readonly HelperThread[]) {}

  begin(task: TileTask, tiles: number): Help | null {
    const { picture } = task;
    if (this.threads.length === 0 || tiles < FEWEST_TILES) return null;
    const control = new SharedArrayBuffer(4 * slotAt(this.threads.length, 0));
    const cells = Math.ceil(picture.width / CELL_PX) * Math.ceil(picture.height / CELL_PX);
    const sent = this.threads.map((thread, helper): SentTask => {
      const one: SentTask = {
        kind: 'task',
        picture: this.numberOf(picture.data),
        width: picture.width,
        height: picture.height,
        pixels: this.shared(picture.data),
        maps: task.maps.map(({ levels }) => this.shared(levels)),
        cut: task.cut,
        key: task.key,
        rect: task.rect,
        tilePx: task.tilePx,
        counted: task.counted,
        tiles,
        control,
        helper,
        slots: Array.from({ length: SLOTS_EACH }, () => new SharedArrayBuffer(4 * task.tilePx * task.tilePx)),
        counts: new SharedArrayBuffer(4 * cells),
      };
      thread.post(one);
      return one;
    });
    return new SharedHelp(new Int32Array(control), tiles, sent);
  }

  private numberOf(data: object): number {
    const known = this.numbers.get(data);
    if (known !== undefined) return known;
    this.numbers.set(data, ++this.pictures);
    return this.pictures;
  }

  private shared(data: Uint8Array | Uint16Array): SharedArrayBuffer {
    const known = this.copies.get(data);
    if (known) return known;
    const copy = new SharedArrayBuffer(data.byteLength);
    new Uint8Array(copy).set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
    this.copies.set(data, copy);
    return copy;
  }
}

/** Help by threads that share memory with this one. */
class SharedHelp implements Help {
  private waited = 0;
  private bell = 0;

  constructor(
    private readonly control: Int32Array,
    private readonly tiles: number,
    private readonly sent: readonly SentTask[],
  ) {}

  take(): number {
    const tile = Atomics.add(this.control, NEXT, 1);
    return tile < this.tiles ? tile : -1;
  }

  collect(put: (tile: number, pixels: Uint8Array) => void): void {
    const { control } = this;
    for (const { helper, slots } of this.sent)
      for (const [k, slot] of slots.entries()) {
        const at = slotAt(helper, k);
        if (Atomics.load(control, at) !== FULL) continue;
        put(control[at + 1]!, new Uint8Array(slot));
        Atomics.store(control, at, FREE);
        Atomics.notify(control, at);
        this.waited = 0;
      }
  }

  wait(): boolean {
    Atomics.wait(this.control, BELL, this.bell, WAIT_MS);
    const bell = Atomics.load(this.control, BELL);
    if (bell === this.bell) this.waited += WAIT_MS;
    this.bell = bell;
    return this.waited < MOST_WAIT_MS;
  }

  end(): readonly Uint32Array[] {
    Atomics.store(this.control, ENDED, 1);
    for (const { helper, slots } of this.sent)
      for (const k of slots.keys()) Atomics.notify(this.control, slotAt(helper, k));
    return this.sent.map(({ counts }) => new Uint32Array(counts));
  }
}
