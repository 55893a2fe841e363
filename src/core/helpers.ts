import type { Help } from './numeric/parts';
import type { Raster } from './raster/raster';
import type { PlainFacts } from './scene/memo';

/** Work on a picture in parts that do not depend on each other, as plain data that another thread can be given. */
export interface Task {
  /** Who does it: see `partWork`. */
  readonly kind: 'draw' | 'measure';
  readonly picture: Raster;
  /** What was found out about it. */
  readonly facts: PlainFacts;
  /** Planes as large as the picture that it is done by. */
  readonly maps: readonly { readonly levels: Uint16Array }[];
}

/** Other threads that do parts of tasks. */
export interface Helpers {
  /** Hands out a task of so many parts, of at most so many bytes each; null where it is better done alone. */
  begin(task: Task, parts: number, bytes: number): Help | null;
}
