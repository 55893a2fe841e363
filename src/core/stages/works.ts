import { CLEAR_WORK } from './clear/work';
import { EDGE_WORKS } from './edge/work';
import { INK_WORK } from './ink/work';
import type { Stage } from './stage';
import { STAGES, type StageKey } from './stages';
import { TOUCH_UP_WORKS } from './touch-up/work';
import type { Work } from './work';

/** What each stage does to pixels, in one step or several. Prepare stands before them and makes the picture they work on, Deliver behind them. */
export const WORKS = {
  clear: CLEAR_WORK,
  edge: EDGE_WORKS,
  touchUp: TOUCH_UP_WORKS,
  ink: INK_WORK,
} as const satisfies Readonly<Record<Exclude<StageKey, 'prepare' | 'deliver'>, Work | readonly Work[]>>;

/** A list of stages and what they do. */
export interface StageTable {
  readonly stages: readonly Stage[];
  readonly works: Readonly<Record<string, Work | readonly Work[]>>;
}

export const TABLE: StageTable = { stages: STAGES, works: WORKS };

/** The steps of a stage in their order; none where it does nothing to pixels. */
export function worksOf({ works }: StageTable, { key }: Stage): readonly Work[] {
  const own = works[key];
  return own === undefined ? [] : isList(own) ? own : [own];
}

function isList(works: Work | readonly Work[]): works is readonly Work[] {
  return Array.isArray(works);
}
