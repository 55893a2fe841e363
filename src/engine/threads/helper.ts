import { TilePainter } from '../../core/render';
import { sceneOf, type Scene } from '../../core/scene/scene';
import { BELL, ENDED, FULL, NEXT, slotAt, taskOf, type SentTask } from './shared';

/** What a helping thread does: tiles of a task, until none is left or it has ended. */
export class Helper {
  /** The picture it worked on last, with what it found out about it. */
  private last: { readonly picture: number; readonly scene: Scene } | null = null;

  help(sent: SentTask): void {
    const control = new Int32Array(sent.control);
    if (Atomics.load(control, ENDED) === 1) return;
    const task = taskOf(sent);
    if (this.last?.picture !== sent.picture)
      this.last = { picture: sent.picture, scene: sceneOf(task.picture) };
    const painter = new TilePainter(this.last.scene, task);
    const slots = sent.slots.map((slot) => new Uint8Array(slot));
    const counts = new Uint32Array(sent.counts);
    for (let turn = 0; ; turn = (turn + 1) % slots.length) {
      const at = slotAt(sent.helper, turn);
      const tile = Atomics.load(control, ENDED) === 1 ? sent.tiles : Atomics.add(control, NEXT, 1);
      if (tile >= sent.tiles) return;
      const { data } = painter.draw(tile);
      Atomics.wait(control, at, FULL);
      if (Atomics.load(control, ENDED) === 1) return;
      slots[turn]!.set(data);
      counts.set(painter.counts);
      control[at + 1] = tile;
      Atomics.store(control, at, FULL);
      Atomics.add(control, BELL, 1);
      Atomics.notify(control, BELL);
    }
  }
}
