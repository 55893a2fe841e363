import { partWork } from '../../core/help-parts';
import { sceneOf, type Scene } from '../../core/scene/scene';
import { BELL, ENDED, FULL, NEXT, slotAt, type SentTask } from './shared';

/** A picture nobody asked for help with during this time is let go. */
const OPEN_MS = 15_000;

/** What a helping thread does: parts of a task, until none is left or it has ended. */
export class Helper {
  /** The picture it worked on last, with what it found out about it. */
  private last: { readonly picture: number; readonly scene: Scene } | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;

  help(sent: SentTask): void {
    clearTimeout(this.timer);
    this.work(sent);
    this.timer = setTimeout(() => (this.last = null), OPEN_MS);
  }

  private work({ task, picture, parts, helper, ...memory }: SentTask): void {
    const control = new Int32Array(memory.control);
    if (Atomics.load(control, ENDED) === 1) return;
    if (this.last?.picture !== picture) this.last = { picture, scene: sceneOf(task.picture) };
    const parted = partWork(this.last.scene, task);
    const slots = memory.slots.map((slot) => new Uint8Array(slot));
    const counts = new Uint32Array(memory.counts);
    for (let turn = 0; ; turn = (turn + 1) % slots.length) {
      const at = slotAt(helper, turn);
      const part = Atomics.load(control, ENDED) === 1 ? parts : Atomics.add(control, NEXT, 1);
      if (part >= parts) return;
      const bytes = parted.make(part);
      Atomics.wait(control, at, FULL);
      if (Atomics.load(control, ENDED) === 1) return;
      slots[turn]!.set(bytes);
      if (parted.counts) counts.set(parted.counts);
      control[at + 1] = part;
      Atomics.store(control, at, FULL);
      Atomics.add(control, BELL, 1);
      Atomics.notify(control, BELL);
    }
  }
}
