import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { BACKINGS } from '../core/view/backing';
import { untouchedCut } from '../core/cut/parse';
import { lookActions } from './look-actions';

function start() {
  const made = benchParts(
    untouchedCut(),
    {},
    {
      stage: 'clear',
      view: { scale: 1, left: 0, top: 0, width: 0, height: 0 },
      fitted: true,
      comparing: 'none',
      sheetWidth: 0,
      wipe: 0.5,
      look: 'result',
      shown: 'result',
      backing: 'checker',
      checked: null,
      pointer: null,
    },
  );
  let shows = 0;
  const actions = lookActions(made.parts, () => shows++);
  actions.resize(800, 600);
  return { ...made, actions, shows: () => shows };
}

describe('looking', () => {
  it('gives each picture half of the sheet side by side, and all of it afterwards', () => {
    const { actions, state } = start();
    expect(state().view).toMatchObject({ scale: 1, left: 200, top: 150, width: 800 });
    actions.toggleComparing('beside');
    expect(state()).toMatchObject({ comparing: 'beside', sheetWidth: 800 });
    expect(state().view).toMatchObject({ width: 400, left: 24 });
    actions.resize(1000, 600);
    expect(state().view.width).toBe(500);
    actions.toggleComparing('beside');
    expect(state().view).toMatchObject({ width: 1000, left: 300 });
  });

  it('keeps the middle in its place where the sheet is not fitted', () => {
    const { actions, state } = start();
    actions.zoomTo(4, 400, 300);
    const middle = ({ view }: ReturnType<typeof state>) => (view.width / 2 - view.left) / view.scale;
    const before = middle(state());
    actions.toggleComparing('beside');
    expect(middle(state())).toBeCloseTo(before, 1);
    actions.toggleComparing('wipe');
    expect(state().view.width).toBe(800);
    expect(middle(state())).toBeCloseTo(before, 1);
  });

  it('flies to a place at a fitting zoom, and looks at a pixel without leaving the picture', () => {
    const { actions, state } = start();
    actions.flyTo({ x: 100, y: 50, width: 40, height: 20 });
    const { view } = state();
    expect(view.scale).toBeCloseTo(6, 6);
    expect((view.width / 2 - view.left) / view.scale).toBeCloseTo(120, 0);
    expect((view.height / 2 - view.top) / view.scale).toBeCloseTo(60, 0);
    actions.lookAt(390, 290);
    expect((state().view.width / 2 - state().view.left) / view.scale).toBeCloseTo(390, 0);
    actions.flyTo({ x: 0, y: 0, width: 1, height: 1 });
    expect(state().view.scale).toBe(8);
  });

  it('keeps the line of the wipe within the sheet', () => {
    const { actions, state } = start();
    actions.setWipe(1.4);
    expect(state().wipe).toBe(1);
    actions.setWipe(-0.1);
    expect(state().wipe).toBe(0);
  });

  it('steps through all backings, also where the contrasting one is among them', () => {
    for (const contrast of ['#000000', '#00ff00']) {
      const { actions, state, parts } = start();
      parts.set({ checked: { key: '', findings: [], pockets: [], idleStrokes: [], contrast } });
      const seen = new Set<string>();
      for (let k = 0; k < 8; k++) {
        actions.stepBacking();
        seen.add(state().backing);
      }
      expect([...seen].sort()).toEqual(
        [...new Set([...BACKINGS.map(({ value }) => value), contrast])].sort(),
      );
    }
  });

  it('shows a finding on a backing without making it the piece’s own', () => {
    const { actions, state, shows } = start();
    const before = shows();
    actions.showOn('#00ff00', true);
    expect(state()).toMatchObject({ backing: '#00ff00', shown: 'faint' });
    actions.showOn(null, false);
    expect(state()).toMatchObject({ backing: '#00ff00', shown: 'result' });
    expect(shows()).toBe(before + 2);
  });
});
