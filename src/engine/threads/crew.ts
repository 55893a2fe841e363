import type { Helpers, Task } from '../../core/helpers';
import type { Help } from '../../core/numeric/parts';
import { Cells } from '../../core/numeric/cells';
import type { Bytes, Raster } from '../../core/raster/raster';
import { BELL, ENDED, FREE, FULL, NEXT, SLOTS_EACH, slotAt, type SentTask } from './shared';

/** A thread that can be given tasks. */
export interface HelperThread {
  post(task: SentTask): void;
}

/** More threads than these gain little: the parts that one does alone take the time then. */
export const MOST_HELPERS = 7;

/** Pictures of fewer pixels are done before others have begun. */
export const FEWEST_HELPED_PIXELS = 1_500_000;

/** Tasks of fewer parts are done before anybody else has begun. */
const FEWEST_PARTS = 8;

/** How long one waits for a sign of life at a time, and at most. */
const WAIT_MS = 8;
const MOST_WAIT_MS = 10_000;

/** What is on shared memory, by what it was copied from. */
type Copies = WeakMap<object, SharedArrayBuffer>;

/** A picture on memory that helpers can read, so that they need no copy of it. Its bytes are only read from then on. */
export function onSharedMemory(raster: Raster): Raster {
  const data = new Uint8Array(new SharedArrayBuffer(raster.data.length));
  data.set(raster.data);
  return { ...raster, data: data as unknown as Bytes };
}

/** Threads that help one other, on memory that all share. */
export class Crew implements Helpers {
  private readonly copies: Copies = new WeakMap();
  private readonly numbers = new WeakMap<object, number>();
  private pictures = 0;
  /** Parts that others have made so far. */
  partsMade = 0;

  private readonly mostWaitMs: number;
  private readonly doAll: boolean;

  /**
   * `mostWaitMs`: how long they may give no sign of life. `doAll`: whether they leave nothing to the one they help, so that it
   * can answer at any time.
   */
  constructor(
    private readonly threads: readonly HelperThread[],
    options: { readonly mostWaitMs?: number; readonly doAll?: boolean } = {},
  ) {
    this.mostWaitMs = options.mostWaitMs ?? MOST_WAIT_MS;
    this.doAll = options.doAll ?? false;
  }

  begin(task: Task, parts: number, bytes: number): Help | null {
    const { width, height, data } = task.picture;
    if (this.threads.length === 0 || parts < FEWEST_PARTS) return null;
    const shared = this.onSharedMemory(task);
    const control = new SharedArrayBuffer(4 * slotAt(this.threads.length, 0));
    const cells = new Cells(width, height).counts.length;
    const sent = this.threads.map((thread, helper): SentTask => {
      const one: SentTask = {
        task: shared,
        picture: this.numberOf(data),
        parts,
        control,
        helper,
        slots: Array.from({ length: SLOTS_EACH }, () => new SharedArrayBuffer(bytes)),
        counts: new SharedArrayBuffer(4 * cells),
      };
      thread.post(one);
      return one;
    });
    return new SharedHelp(
      new Int32Array(control),
      this.doAll ? 0 : parts,
      sent,
      this.mostWaitMs,
      () => this.partsMade++,
    );
  }

  /** A task whose picture and maps others can read without a copy of their own. They are only read. */
  private onSharedMemory(task: Task): Task {
    const data = new Uint8Array(this.shared(task.picture.data)) as unknown as Bytes;
    const picture = { ...task.picture, data };
    const maps = task.maps.map((map) => ({
      ...map,
      levels: new Uint16Array(this.shared(map.levels)),
    }));
    return { ...task, picture, maps };
  }

  private numberOf(data: object): number {
    const known = this.numbers.get(data);
    if (known !== undefined) return known;
    this.numbers.set(data, ++this.pictures);
    return this.pictures;
  }

  private shared(data: Uint8Array | Uint16Array): SharedArrayBuffer {
    const { buffer } = data;
    if (buffer instanceof SharedArrayBuffer && buffer.byteLength === data.byteLength) return buffer;
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
    /** Those that may be taken: all, or none. */
    private readonly parts: number,
    private readonly sent: readonly SentTask[],
    private readonly mostWaitMs: number,
    private readonly tell: () => void,
  ) {}

  take(): number {
    if (this.parts === 0) return -1;
    const part = Atomics.add(this.control, NEXT, 1);
    return part < this.parts ? part : -1;
  }

  collect(put: (part: number, bytes: Uint8Array) => void): void {
    const { control } = this;
    for (const { helper, slots } of this.sent)
      for (const [k, slot] of slots.entries()) {
        const at = slotAt(helper, k);
        if (Atomics.load(control, at) !== FULL) continue;
        put(control[at + 1]!, new Uint8Array(slot));
        Atomics.store(control, at, FREE);
        Atomics.notify(control, at);
        this.waited = 0;
        this.tell();
      }
  }

  wait(): boolean {
    Atomics.wait(this.control, BELL, this.bell, WAIT_MS);
    const bell = Atomics.load(this.control, BELL);
    if (bell === this.bell) this.waited += WAIT_MS;
    this.bell = bell;
    return this.waited < this.mostWaitMs;
  }

  end(): readonly Uint32Array[] {
    Atomics.store(this.control, ENDED, 1);
    for (const { helper, slots } of this.sent)
      for (const k of slots.keys()) Atomics.notify(this.control, slotAt(helper, k));
    return this.sent.map(({ counts }) => new Uint32Array(counts));
  }
}
