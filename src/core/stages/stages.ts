import { CLEAR } from './clear/settings';
import { DELIVER } from './deliver/settings';
import { EDGE } from './edge/settings';
import { INK } from './ink/settings';
import { PREPARE } from './prepare/settings';
import { TOUCH_UP } from './touch-up/settings';

/** All stages in the order in which they act. A new one is a folder and a line here, and a line in `WORKS`. */
export const STAGES = [PREPARE, CLEAR, EDGE, TOUCH_UP, INK, DELIVER] as const;

export type StageKey = (typeof STAGES)[number]['key'];
