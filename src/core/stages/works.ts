import { CLEAR_WORK } from './clear/work';
import { EDGE_WORK } from './edge/work';
import { INK_WORK } from './ink/work';
import type { Stage } from './stage';
import { STAGES, type StageKey } from './stages';
import { TOUCH_UP_WORK } from './touch-up/work';
import type { Work } from './work';

/** What each stage does to pixels. Prepare stands before them and makes the picture they work on, Deliver behind them. */
export const WORKS = {
  clear: CLEAR_WORK,
  edge: EDGE_WORK,
  touchUp: TOUCH_UP_WORK,
  ink: INK_WORK,
} as const satisfies Readonly<Record<Exclude<StageKey, 'prepare' | 'deliver'>, Work>>;

/** A list of stages and what they do. */
export interface StageTable {
  readonly stages: readonly Stage[];
  readonly works: Readonly<Record<string, Work>>;
}

export const TABLE: StageTable = { stages: STAGES, works: WORKS };
