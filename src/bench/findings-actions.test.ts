import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { checkKey } from '../core/cut/keys';
import { untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import type { PocketPlace } from '../core/findings/pockets';
import type { Finding, Place } from '../core/findings/finding';
import type { PieceFacts } from './api';
import { findingsActions, openOf, placeAt } from './findings-actions';

const place = (x: number, y: number, change: Partial<Place> = {}): Place => ({
  x,
  y,
  width: 3,
  height: 2,
  at: { x, y },
  pixels: 6,
  ...change,
});
const finding = (kind: Finding['kind'], severity: Finding['severity'], ...places: Place[]): Finding => ({
  kind,
  severity,
  sentence: '',
  count: places.length,
  pixels: 6 * places.length,
  places,
  amount: null,
});
const SPECKS = finding('speck', 'fault', place(10, 20), place(50, 60));
const POCKET = finding('pocket', 'doubt', place(100, 100));
const piece = { id: 'p', width: 400, height: 300 } as PieceFacts;

function start(
  findings: readonly Finding[] = [SPECKS, POCKET],
  cut: Cut = untouchedCut(),
  pockets: readonly PocketPlace[] = [],
) {
  const checked = { key: checkKey(cut), findings, pockets, idleStrokes: [], contrast: '#ffff00' };
  const shown: (readonly [string | null, boolean])[] = [];
  const flown: Place[] = [];
  const made = benchParts(
    cut,
    { contrastAt: () => Promise.resolve('#00ff00') },
    { stage: 'clear', checked, mended: [], at: null, piece, open: findings },
  );
  const { parts } = made;
  // What the store does whenever the cut or the findings change.
  const set: typeof parts.set = (change) => {
    parts.set(change);
    parts.set(openOf(parts.get()));
  };
  const commit: typeof parts.commit = (next) => {
    parts.commit(next);
    parts.set(openOf(parts.get()));
  };
  const actions = findingsActions(
    { ...parts, set, commit },
    {
      flyTo: (box) => flown.push(box),
      leavePrepare: () => undefined,
      showOn: (backing, faint) => shown.push([backing, faint]),
    },
  );
  return { ...made, actions, shown, flown };
}

describe('findings on the bench', () => {
  it('walks through all places of all kinds, around the ends, forth and back', async () => {
    const { actions, state, flown } = start();
    for (const expected of [
      { kind: 'speck', index: 0 },
      { kind: 'speck', index: 1 },
      { kind: 'pocket', index: 0 },
      { kind: 'speck', index: 0 },
    ]) {
      await actions.stepFinding(1);
      expect(state().at).toEqual({ ...expected, done: false });
    }
    await actions.stepFinding(-1);
    expect(state().at).toEqual({ kind: 'pocket', index: 0, done: false });
    expect(flown).toHaveLength(5);
  });

  it('shows each on the backing where it is seen best', async () => {
    const halo = finding('halo', 'fault', place(1, 1, { background: '#ffffff' }));
    const residue = finding('residue', 'fault', place(9, 9));
    const { actions, shown } = start([SPECKS, halo, residue, finding('pinhole', 'fault', place(5, 5))]);
    for (const kind of ['speck', 'halo', 'residue', 'pinhole'] as const) await actions.goToFinding(kind, 0);
    expect(shown).toEqual([
      ['#00ff00', false],
      ['#000000', false],
      ['#00ff00', true],
      ['#ff00ff', false],
    ]);
  });

  it('fixes the place that is looked at, and the next key leads to the next one, not past it', async () => {
    const { actions, state, committed } = start();
    actions.fixFindingAt();
    expect(committed).toEqual([]);
    await actions.stepFinding(1);
    actions.fixFindingAt();
    expect(committed.at(-1)!.touchUp.mends).toMatchObject([{ mend: 'speck', x: 10, y: 20 }]);
    expect(state().stale).toBe(true);
    expect(state().open[0]).toMatchObject({ kind: 'speck', count: 1 });
    // What has its number now was not looked at yet: another Enter must not touch it.
    expect(placeAt(state())).toBeNull();
    actions.fixFindingAt();
    expect(committed).toHaveLength(1);
    await actions.stepFinding(1);
    expect(placeAt(state())?.place).toMatchObject({ x: 50, y: 60 });
    actions.fixFindingAt();
    await actions.stepFinding(1);
    expect(state().at).toMatchObject({ kind: 'pocket', index: 0 });
  });

  it('leads back from a place that is decided to the one before', async () => {
    const { actions, state } = start();
    await actions.stepFinding(1);
    await actions.stepFinding(1);
    actions.dismissFindingAt();
    await actions.stepFinding(-1);
    expect(placeAt(state())?.place).toMatchObject({ x: 10, y: 20 });
  });

  it('fixes all faults at once and leaves doubts open', () => {
    const { actions, state, committed } = start();
    actions.fixFaults();
    expect(committed).toHaveLength(1);
    expect(committed[0]!.touchUp.mends).toHaveLength(2);
    expect(committed[0]!.clear.pockets).toEqual([]);
    expect(state().open.map(({ kind }) => kind)).toEqual(['pocket']);
  });

  it('shows everything again when what was fixed is undone before the checks ran', () => {
    const { actions, state, parts } = start();
    const before = state().cut;
    actions.fixFinding(SPECKS);
    expect(state().open.map(({ kind }) => kind)).toEqual(['pocket']);
    parts.set({ cut: before });
    expect(openOf(state())).toMatchObject({ stale: false, open: [{ count: 2 }, { count: 1 }] });
  });

  it('hides nothing where a fix changes nothing', () => {
    const { actions, state, committed } = start([finding('frame', 'doubt', place(0, 0))]);
    actions.fixFinding(state().open[0]!);
    expect(committed).toEqual([]);
    expect(state().open).toHaveLength(1);
  });

  it('dismisses places without making what was found stale, and brings them back', () => {
    const { actions, state } = start();
    actions.dismissFinding(SPECKS, [SPECKS.places[0]!]);
    expect(state().cut.findings.dismissed).toEqual([{ kind: 'speck', x: 10, y: 20 }]);
    expect(state().stale).toBe(false);
    expect(state().open[0]).toMatchObject({ kind: 'speck', count: 1 });
    actions.restoreFindings();
    expect(state().open[0]).toMatchObject({ kind: 'speck', count: 2 });
  });

  it('does not change the backing where somebody chose one, or went on, while the engine looked', async () => {
    const { actions, parts, shown } = start();
    const going = actions.goToFinding('speck', 0);
    parts.set({ backing: '#ff00ff' });
    await going;
    expect(shown).toEqual([]);
    await Promise.all([actions.goToFinding('speck', 0), actions.goToFinding('speck', 1)]);
    expect(shown).toHaveLength(1);
  });

  it('answers for all areas that are not sure, and for none while it is not known which those are', () => {
    const area = (x: number, sure: boolean): PocketPlace => ({
      ...place(x, 100),
      dots: [],
      goes: true,
      why: 'open-work',
      sure,
    });
    const { actions, parts, committed } = start([POCKET], untouchedCut(), [
      area(100, false),
      area(200, true),
    ]);
    parts.set(openOf(parts.get()));
    actions.answerQuestion(true);
    expect(committed.at(-1)!.clear.pockets).toEqual([{ x: 100, y: 100, keep: true }]);
    // The cut has changed since the checks ran.
    actions.answerQuestion(false);
    expect(committed).toHaveLength(1);
  });

  it('keeps a pocket that is dismissed', () => {
    const { actions, committed } = start();
    actions.dismissFinding(POCKET);
    expect(committed.at(-1)!.clear.pockets).toEqual([{ x: 100, y: 100, keep: true }]);
  });

  it('does nothing where nothing was found, or where there is no fix', async () => {
    const { actions, committed, state } = start([finding('alike', 'note', place(1, 1))]);
    await actions.stepFinding(1);
    expect(state().at).toEqual({ kind: 'alike', index: 0, done: false });
    actions.fixFindingAt();
    actions.fixFaults();
    expect(committed).toEqual([]);
    const none = start([]);
    await none.actions.stepFinding(1);
    expect(none.state().at).toBeNull();
  });

  it('takes single mends back, and all', () => {
    const { actions, state } = start();
    actions.fixFinding(SPECKS);
    actions.deleteMend(0);
    expect(state().cut.touchUp.mends).toMatchObject([{ x: 50, y: 60 }]);
    actions.deleteMends();
    expect(state().cut.touchUp.mends).toEqual([]);
  });
});

describe('openOf', () => {
  it('is stale before the checks ran and after the cut changed, not after a file was named', () => {
    const cut = untouchedCut();
    const checked = {
      key: checkKey(cut),
      findings: [SPECKS],
      pockets: [],
      idleStrokes: [],
      contrast: '#000000',
    };
    expect(openOf({ checked: null, cut, piece, mended: [] })).toEqual({ open: [], stale: true });
    expect(openOf({ checked, cut, piece, mended: [] }).stale).toBe(false);
    const named = { ...cut, deliver: { ...cut.deliver, fileName: 'a.png' } };
    expect(openOf({ checked, cut: named, piece, mended: [] }).stale).toBe(false);
    const printed = { ...cut, deliver: { ...cut.deliver, print: { widthMm: 10, leastDpi: 300 } } };
    expect(openOf({ checked, cut: printed, piece, mended: [] }).stale).toBe(true);
    expect(
      openOf({ checked, cut: { ...cut, edge: { ...cut.edge, spill: 3 } }, piece, mended: [] }).stale,
    ).toBe(true);
  });
});
