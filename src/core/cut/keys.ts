import { printKey } from '../stages/deliver/print-key';
import type { Stage } from '../stages/stage';
import { STAGES } from '../stages/stages';
import { settingsOf, type Cut } from './schema';

/** What of a stage's settings decides about pixels. */
export function pixelsOf(cut: Cut, stage: Stage): unknown {
  return stage.pixels(settingsOf(cut, stage));
}

/** Equal for two cuts that give the same pixels of the same original. */
export function pixelKey(cut: Cut, stages: readonly Stage[] = STAGES): string {
  return JSON.stringify(stages.map((stage) => pixelsOf(cut, stage)));
}

/** Equal for two cuts in which the checks find the same. */
export function checkKey(cut: Cut): string {
  return JSON.stringify([pixelKey(cut), printKey(cut)]);
}
