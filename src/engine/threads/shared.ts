import type { Task } from '../../core/helpers';

/** Numbers that all threads of a task share, by their index: the next tile, whether it has ended, a bell for who waits. */
export const NEXT = 0;
export const ENDED = 1;
export const BELL = 2;
/** Two more for each slot of each helper: whether it is full, and with which tile. */
export const SLOTS = 3;
export const SLOTS_EACH = 2;

/** Where the numbers of a helper's slot are. */
export function slotAt(helper: number, slot: number): number {
  return SLOTS + 2 * (SLOTS_EACH * helper + slot);
}

export const FREE = 0;
export const FULL = 1;

/** A task as it is sent to a helper. What is large in it is shared memory. */
export interface SentTask {
  readonly task: Task;
  /** Which picture: a helper keeps what it finds out about the last one. */
  readonly picture: number;
  readonly parts: number;
  readonly control: SharedArrayBuffer;
  /** Which helper it is, and where it puts the bytes of parts in turn, and its counts. */
  readonly helper: number;
  readonly slots: readonly SharedArrayBuffer[];
  readonly counts: SharedArrayBuffer;
}
