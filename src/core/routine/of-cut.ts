import type { Cut } from '../cut/schema';
import { same } from '../stages/stage';
import type { StageKey } from '../stages/stages';
import { AS_FOUND, NO_STEPS, type ClearWish, type RoutineSteps } from './settings';

/** Stages of which something can be laid on other pieces; touching up belongs to one picture alone. */
export const CARRIED_STAGES = [
  'prepare',
  'clear',
  'edge',
  'ink',
  'deliver',
] as const satisfies readonly StageKey[];

export type CarriedStage = (typeof CARRIED_STAGES)[number];

/**
 * What of a cut can be laid on other pieces, by the stages that were chosen. `proposed` is the cut that was proposed for the same
 * piece: of Clear only what was decided differently travels, since what was found in one picture is no fact about another.
 */
export function stepsOfCut(cut: Cut, stages: readonly CarriedStage[], proposed: Cut | null): RoutineSteps {
  const has = (stage: CarriedStage) => stages.includes(stage);
  const { on, flatten, calm, removeRules } = cut.prepare;
  const { fineDetail, ...edge } = cut.edge;
  const { outputs, hidden, print, credit } = cut.deliver;
  return {
    ...NO_STEPS,
    prepare: has('prepare') ? { on, flatten, calm, removeRules } : null,
    clear: has('clear') ? clearWishOf(cut, proposed) : null,
    edge: has('edge') ? edge : null,
    ink: has('ink') ? cut.ink : null,
    deliver: has('deliver')
      ? {
          sets: [{ name: 'its files', outputs, hidden }],
          fileName: null,
          trim: null,
          padding: null,
          hidden,
          print,
          credit,
        }
      : null,
  };
}

/** What was decided about clearing, as a wish to the proposal of another picture. */
function clearWishOf({ clear }: Cut, proposed: Cut | null): ClearWish {
  const { ink } = clear;
  if (ink?.on) {
    const found = proposed?.clear.ink ?? null;
    return {
      ...AS_FOUND,
      method: 'ink',
      channel: found && found.channel === ink.channel ? null : ink.channel,
      speckPx: found && found.speckPx === ink.speckPx ? null : ink.speckPx,
    };
  }
  const sample = clear.samples.find((one) => one.on) ?? clear.samples[0];
  if (!sample) return AS_FOUND;
  const found = proposed?.clear.samples[0] ?? null;
  const unlessFound = <K extends 'reach' | 'backdrop' | 'shade'>(field: K) =>
    found && same(found[field], sample[field]) ? null : sample[field];
  return {
    ...AS_FOUND,
    method: 'color',
    tolerance: sample.rule === 'tolerance' ? sample.tolerance : null,
    reach: unlessFound('reach'),
    backdrop: unlessFound('backdrop'),
    shade: unlessFound('shade'),
  };
}
