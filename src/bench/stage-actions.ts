import type { Cut } from '../core/cut/schema';
import type { StageKey } from '../core/stages/stages';
import type { StoreParts } from './bench-state';

/** What a stage makes of a change of its settings, where that is more than to take it over; null where it is refused. */
export type ChangeRules = { readonly [K in StageKey]?: (patch: Partial<Cut[K]>) => Cut | null };

/** Changing the settings of any stage. */
export function stageActions({ get, commit, draft }: StoreParts, rules: ChangeRules) {
  function changed<K extends StageKey>(key: K, patch: Partial<Cut[K]>): Cut | null {
    const rule = rules[key];
    if (rule) return rule(patch);
    const { cut } = get();
    return { ...cut, [key]: { ...cut[key], ...patch } };
  }
  return {
    /** Changes settings of a stage and saves that as a step. */
    change<K extends StageKey>(key: K, patch: Partial<Cut[K]>): void {
      const cut = changed(key, patch);
      if (cut) commit(cut);
    },
    /** Shows such a change without saving it: while a slider moves. */
    draft<K extends StageKey>(key: K, patch: Partial<Cut[K]>): void {
      const cut = changed(key, patch);
      if (cut) draft(cut);
    },
  };
}
