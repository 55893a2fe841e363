import { describeStage, type Stage } from '../stages/stage';
import { STAGES } from '../stages/stages';
import { settingsOf, type Cut } from './schema';

/** Says in a few words how `after` differs from `before`: the name of the step in undo and redo. */
export function describeChange(before: Cut, after: Cut, stages: readonly Stage[] = STAGES): string {
  for (const stage of stages) {
    const words = describeStage(stage, settingsOf(before, stage), settingsOf(after, stage));
    if (words) return words;
  }
  const dismissed = after.findings.dismissed.length - before.findings.dismissed.length;
  if (dismissed > 0) return dismissed === 1 ? 'dismiss a finding' : `dismiss ${dismissed} findings`;
  if (dismissed < 0) return 'bring findings back';
  return 'no change';
}
