import { newRoutine } from '../routine/first-routines';
import { LONGEST_ROUTINE_NAME, NO_STEPS, type Routine } from '../routine/settings';
import type { Marked, Watermark } from './settings';

/** A routine that does nothing but put a watermark on photos. */
export function markRoutine(watermark: Watermark, marked: Marked): Routine {
  const name = [...`mark ${watermark.name}`].slice(0, LONGEST_ROUTINE_NAME).join('').trim();
  return newRoutine(name, { ...NO_STEPS, mark: { ...marked, watermark }, notSure: 'deliver' });
}
