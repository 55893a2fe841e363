import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import type { Prepare } from '../core/stages/prepare/settings';
import { apply } from '../core/numeric/matrix3';
import { frameOf } from '../core/stages/prepare/frame';
import { framing, shownCut } from './framing';
import type { StoreParts } from './bench-state';
import { prepareActions, prepareRule } from './prepare-actions';
import { stageActions } from './stage-actions';

function actionsOn(parts: StoreParts) {
  const changed = prepareRule(parts);
  return { ...stageActions(parts, { prepare: changed }), ...prepareActions(parts, changed) };
}

const prepared = (change: Partial<Prepare>): Cut => ({
  ...untouchedCut(),
  prepare: { ...untouchedCut().prepare, ...change },
});

describe('Prepare on the bench', () => {
  it('carries a crop along with its content when the picture is turned, flipped or straightened', () => {
    const crop = { x: 40, y: 30, width: 120, height: 60 };
    for (const change of [
      { turn: 90 as const },
      { flip: true },
      { straightenDeg: 8 },
      { turn: 180 as const },
    ]) {
      const { parts, committed } = benchParts(prepared({ crop }));
      actionsOn(parts).change('prepare', change);
      const { prepare } = committed.at(-1)!;
      const frame = frameOf(prepare, 400, 300);
      const middle = apply(
        frame.toOriginal,
        frame.crop.x + frame.crop.width / 2,
        frame.crop.y + frame.crop.height / 2,
      );
      expect(Math.abs(middle.x - 100)).toBeLessThanOrEqual(1);
      expect(Math.abs(middle.y - 60)).toBeLessThanOrEqual(1);
      const sides = [frame.crop.width, frame.crop.height];
      expect(sides).toEqual('turn' in change && change.turn === 90 ? [60, 120] : [120, 60]);
    }
  });

  it('refuses corners that make no picture, says so and changes nothing', () => {
    const { parts, committed, drafted, state } = benchParts(untouchedCut());
    const actions = actionsOn(parts);
    const crossed: Prepare['corners'] = [
      [0, 0],
      [300, 200],
      [300, 0],
      [0, 200],
    ];
    actions.change('prepare', { corners: crossed });
    actions.draft('prepare', { corners: crossed });
    expect([committed, drafted]).toEqual([[], []]);
    expect(state().prepareNote).toMatch(/^That makes no picture: cut\.prepare\.corners/);
  });

  it('turns by quarters, to and fro', () => {
    const { parts, committed } = benchParts(untouchedCut());
    const actions = actionsOn(parts);
    for (const by of [-90, 90, 90, 90, 90, 90] as const) actions.turn(by);
    expect(committed.map(({ prepare }) => prepare.turn)).toEqual([270, 0, 90, 180, 270, 0]);
  });

  it.each([
    [100, 10, -5.71],
    [-100, -10, -5.71],
    [100, -10, 5.71],
  ])('lays a line of %d, %d level', (dx, dy, deg) => {
    const { parts, committed } = benchParts(untouchedCut());
    actionsOn(parts).straightenAlong(dx, dy);
    expect(committed.at(-1)!.prepare.straightenDeg).toBeCloseTo(deg, 1);
  });

  it('adds to what is straightened already, and names a line that is too steep', () => {
    const { parts, committed, state } = benchParts(prepared({ straightenDeg: 10 }));
    const actions = actionsOn(parts);
    actions.straightenAlong(100, 10);
    expect(committed.at(-1)!.prepare.straightenDeg).toBeCloseTo(4.29, 1);
    actions.straightenAlong(10, 100);
    actions.straightenAlong(2, 2);
    expect(committed).toHaveLength(1);
    expect(state().prepareNote).toMatch(/84° off level: turn the picture by a quarter first/);
  });

  it('says how sure it is, or that no lines are seen', async () => {
    const found = (confidence: number) =>
      benchParts(untouchedCut(), {
        straightening: () => Promise.resolve({ deg: 2.345, confidence, by: 'ruled lines' }),
      });
    const sure = found(0.87);
    await actionsOn(sure.parts).straightenByItself();
    expect(sure.committed.at(-1)!.prepare.straightenDeg).toBe(2.35);
    expect(sure.state().prepareNote).toBe('By its ruled lines: 2.35°, 87 % sure.');
    const unsure = found(0.2);
    await actionsOn(unsure.parts).straightenByItself();
    expect(unsure.committed).toEqual([]);
    expect(unsure.state().prepareNote).toMatch(/^No lines are seen clearly enough \(20 % sure\)/);
  });

  it('crops to content with a margin, and says when there is none', async () => {
    const box = { x: 100, y: 80, width: 150, height: 40 };
    const some = benchParts(untouchedCut(), { contentBox: () => Promise.resolve(box) });
    await actionsOn(some.parts).cropToContent();
    expect(some.committed.at(-1)!.prepare.crop).toEqual({ x: 92, y: 72, width: 166, height: 56 });
    const none = benchParts(untouchedCut(), { contentBox: () => Promise.resolve(null) });
    await actionsOn(none.parts).cropToContent();
    expect(none.committed).toEqual([]);
    expect(none.state().prepareNote).toMatch(/no content to crop to/);
  });
});

describe('what the sheet shows', () => {
  const cut = prepared({ turn: 90, crop: { x: 10, y: 20, width: 50, height: 60 } });

  it('is not cropped while Prepare is open, and as it came while corners are set', () => {
    expect(shownCut(cut, 'clear', 'move')).toBe(cut);
    expect(shownCut(cut, 'prepare', 'crop').prepare).toMatchObject({ crop: null, turn: 90 });
    expect(shownCut(cut, 'prepare', 'corners').prepare).toEqual(untouchedCut().prepare);
  });

  it('has the frame of that, beside the size of the result', () => {
    const { frame, output } = framing(cut, 'prepare', 'crop', { width: 400, height: 300 });
    expect(frame.crop).toEqual({ x: 0, y: 0, width: 300, height: 400 });
    expect(output).toEqual({ width: 50, height: 60 });
    expect(framing(cut, 'edge', 'move', { width: 400, height: 300 }).frame.crop).toMatchObject({
      x: 10,
      width: 50,
    });
  });
});
