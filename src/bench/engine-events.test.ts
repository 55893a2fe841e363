import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { checkKey } from '../core/cut/keys';
import { untouchedCut } from '../core/cut/parse';
import type { EngineEvent } from '../engine/protocol';
import { engineEvents } from './engine-events';

describe('what the engine tells', () => {
  const cut = untouchedCut();
  const checkedAs = (key: string): EngineEvent => ({
    kind: 'checked',
    key,
    contrast: '#000000',
    findings: [],
    pockets: [],
    idleStrokes: [],
  });

  it('of a cut that was left does not take the place of what is known of the cut at hand', () => {
    const { parts, state } = benchParts(cut, {}, { checked: null });
    const tell = engineEvents(parts, { turn: () => 1, settled: () => undefined });
    tell(checkedAs('another'));
    expect(state().checked?.key).toBe('another');
    tell(checkedAs(checkKey(cut)));
    tell(checkedAs('another'));
    expect(state().checked?.key).toBe(checkKey(cut));
  });
});
