import { describe, expect, it } from 'vitest';
import { benchParts } from '../../tests/make/bench-parts';
import { untouchedCut } from '../core/cut/parse';
import type { Cut } from '../core/cut/schema';
import { parseCut } from '../core/cut/parse';
import { cornersOf, pathOf } from '../core/stages/touch-up/path';
import { MOST_HAND_STROKES, type HandStroke } from '../core/stages/touch-up/settings';
import type { BenchClient } from '../engine/browser/bench-client';
import { FULL, handActions } from './hand-actions';
import { FIRST_HAND, type HandState } from './hand-state';
import { handToolOf, handTools, steppedSoftness } from './hand-tools';
import type { DragPhase } from './pointer-tool';

const dot: HandStroke = {
  kind: 'brush',
  does: 'clear',
  radiusPx: 5,
  softness: 0,
  strength: 100,
  pressure: 'none',
  alike: null,
  path: '5,5',
};
const cutOf = (...strokes: HandStroke[]): Cut => ({
  ...untouchedCut(),
  touchUp: { ...untouchedCut().touchUp, strokes },
});

/** A bench on which a screen pixel is half a pixel of a picture of 400 x 300. */
function bench(hand: Partial<HandState> = {}, cut = cutOf(), client: Partial<BenchClient> = {}) {
  const view = { scale: 2, left: 0, top: 0, width: 800, height: 600 };
  const made = benchParts(cut, client, {
    stage: 'touchUp',
    view,
    brushPx: 20,
    hand: { ...FIRST_HAND, ...hand },
    ledHand: null,
  });
  const actions = handActions(made.parts);
  const { tools } = handTools(made.parts, actions);
  const plain: DragPhase = { first: false, last: false, shift: false, alt: false, pressure: null };
  const drag = (places: readonly (readonly [number, number, number?])[], more: Partial<DragPhase> = {}) => {
    const [x, y] = places[0]!;
    places.forEach(([u, v, pressure = null], k) =>
      tools[handToolOf(made.state())].drag!(
        { x, y },
        { x: u, y: v },
        {
          ...plain,
          ...more,
          first: k === 0,
          last: k === places.length - 1,
          pressure,
        },
      ),
    );
  };
  return { ...made, actions, tools, drag, strokes: () => made.state().cut.touchUp.strokes };
}

describe('a brush on the bench', () => {
  it('leads one stroke that is drafted all the way and committed once, in pixels of the original', () => {
    const { drag, committed, drafted, strokes } = bench();
    drag([
      [20, 20],
      [120, 20],
      [120, 90],
    ]);
    expect(committed).toHaveLength(1);
    expect(drafted.length).toBeGreaterThan(1);
    expect(strokes()).toEqual([{ ...dot, radiusPx: 10, path: '10,10 60,10 60,45' }]);
    expect(() => parseCut(committed[0])).not.toThrow();
  });

  it('notes how hard a pen is pressed, and nothing where there is none', () => {
    const pen = bench({ pressure: 'strength' });
    pen.drag([
      [20, 20, 0.25],
      [120, 20, 0.75],
    ]);
    expect(pen.strokes()[0]).toMatchObject({ pressure: 'strength', path: '10,10,0.25 60,10,0.75' });
    const off = bench({ pressure: 'none' });
    off.drag([
      [20, 20, 0.25],
      [120, 20, 0.75],
    ]);
    expect(off.strokes()[0]).toMatchObject({ pressure: 'none', path: '10,10 60,10' });
  });

  it('goes on as another stroke where one can hold no more, and loses nothing', () => {
    const { drag, strokes } = bench();
    // A zigzag of 10,000 places, of which none can be left out.
    drag(
      Array.from(
        { length: 10_000 },
        (_, k) => [(k % 100) * 8, Math.floor(k / 100) * 5 + (k % 2) * 4] as const,
      ),
    );
    expect(strokes().length).toBeGreaterThan(1);
    const paths = strokes().map((stroke) => pathOf('path' in stroke ? stroke.path : ''));
    for (const { xs } of paths) expect(xs.length).toBeLessThanOrEqual(4000);
    expect(paths[1]!.xs[0]).toBe(paths[0]!.xs.at(-1));
    expect(() => parseCut(cutOf(...strokes()))).not.toThrow();
  });

  it('says when a cut can hold no more strokes, and leaves them as they are', () => {
    const full = cutOf(...Array.from({ length: MOST_HAND_STROKES }, () => dot));
    const { drag, state, committed } = bench({}, full);
    drag([
      [20, 20],
      [120, 20],
    ]);
    expect(committed).toHaveLength(0);
    expect(state().hand.note).toBe(FULL);
    expect(state().cut).toBe(full);
  });

  it('ends where the last stroke that has room ends, and drafts nothing beyond', () => {
    const nearly = cutOf(...Array.from({ length: MOST_HAND_STROKES - 1 }, () => dot));
    const { drag, state, committed, drafted } = bench({}, nearly);
    drag(
      Array.from({ length: 5000 }, (_, k) => [(k % 100) * 8, Math.floor(k / 100) * 5 + (k % 2) * 4] as const),
    );
    expect(committed).toHaveLength(1);
    expect(state().hand.note).toBe(FULL);
    expect(Math.max(...drafted.map(({ touchUp }) => touchUp.strokes.length))).toBe(MOST_HAND_STROKES);
    expect(state().cut).toBe(committed[0]);
  });

  it('keeps level or upright while Shift is held, whichever it began with', () => {
    const level = bench();
    level.drag(
      [
        [20, 20],
        [60, 24],
        [120, 50],
        [200, 90],
      ],
      { shift: true },
    );
    expect(level.strokes()[0]).toMatchObject({ path: '10,10 100,10' });
    const upright = bench();
    upright.drag(
      [
        [20, 20],
        [22, 60],
        [70, 160],
      ],
      { shift: true },
    );
    expect(upright.strokes()[0]).toMatchObject({ path: '10,10 10,80' });
  });

  it('goes on from where the last stroke ended with Shift and a click; sizes with Alt', () => {
    const { tools, strokes, drag, state } = bench();
    tools['hand-brush'].click({ x: 20, y: 20 }, false);
    tools['hand-brush'].click({ x: 200, y: 100 }, true);
    expect(strokes().map((stroke) => 'path' in stroke && stroke.path)).toEqual(['10,10', '10,10 100,50']);
    drag(
      [
        [20, 20],
        [60, 20],
        [60, -40],
      ],
      { alt: true },
    );
    expect(state().brushPx).toBe(60);
    expect(state().hand.softness).toBe(20);
    expect(strokes()).toHaveLength(2);
    expect([steppedSoftness(95, 1), steppedSoftness(5, -1)]).toEqual([100, 0]);
  });

  it('lets go of a stroke that became a zoom', () => {
    const { tools, strokes, committed, state } = bench({}, cutOf(dot));
    const phase = { first: true, last: false, shift: false, alt: false, pressure: null };
    tools['hand-brush'].drag!({ x: 20, y: 20 }, { x: 30, y: 20 }, phase);
    expect(strokes()).toHaveLength(2);
    tools['hand-brush'].cancel!();
    expect(strokes()).toEqual([dot]);
    expect(committed).toHaveLength(0);
    expect(state().ledHand).toBeNull();
  });
});

describe('other tools on the bench', () => {
  it('set corners, a dragged one with a curve, and close the outline at the first', () => {
    const { tools, strokes, state, drag } = bench({ tool: 'area' });
    const click = (x: number, y: number) => tools['hand-area'].click({ x, y }, false);
    click(20, 20);
    click(200, 20);
    drag([
      [200, 160],
      [180, 190],
    ]);
    expect(state().hand.outline).toHaveLength(3);
    click(23, 22);
    expect(state().hand.outline).toBeNull();
    const [stroke] = strokes();
    expect(stroke).toMatchObject({ kind: 'area', does: 'clear', shape: 'outline' });
    expect(cornersOf((stroke as { corners: string }).corners)).toEqual([
      { x: 10, y: 10, handle: null },
      { x: 100, y: 10, handle: null },
      { x: 100, y: 80, handle: { x: -10, y: 15 } },
    ]);
    expect(state().hand.chosen).toBe(0);
  });

  it('close the outline by a double click at its end', () => {
    const { tools, strokes } = bench({ tool: 'area' });
    for (const [x, y] of [
      [20, 20],
      [200, 20],
      [200, 160],
      [201, 160],
    ] as const)
      tools['hand-area'].click({ x, y }, false);
    expect(strokes()).toHaveLength(1);
    expect(cornersOf((strokes()[0] as { corners: string }).corners)).toHaveLength(3);
  });

  it('make no area of fewer than three corners, nor a box of no size', () => {
    const { actions, strokes, state } = bench({ tool: 'area' });
    actions.addOutline([
      { x: 1, y: 1, handle: null },
      { x: 9, y: 9, handle: null },
    ]);
    expect(state().hand.note).toContain('three corners');
    actions.addBox('rectangle', { x: 5, y: 5 }, { x: 5, y: 60 });
    expect(strokes()).toHaveLength(0);
  });

  it('close a gap as the engine finds its ends, and say where there are none', async () => {
    const ends = {
      from: { x: 10, y: 10 },
      to: { x: 30, y: 12 },
      widthPx: 3,
      endWidthPx: 4,
      color: '#102030',
    };
    const found = bench({ tool: 'gap' }, cutOf(), { lineEnds: () => Promise.resolve(ends) });
    found.tools['hand-gap'].click({ x: 20, y: 20 }, false);
    found.tools['hand-gap'].click({ x: 60, y: 24 }, false);
    await expect
      .poll(() => found.strokes())
      .toEqual([
        { kind: 'gap', does: 'close', path: '10,10 30,12', widthPx: 3, endWidthPx: 4, color: '#102030' },
      ]);
    const none = bench({ tool: 'gap' }, cutOf(), { lineEnds: () => Promise.resolve(null) });
    none.tools['hand-gap'].click({ x: 20, y: 20 }, false);
    none.tools['hand-gap'].click({ x: 60, y: 24 }, false);
    await expect.poll(() => none.state().hand.note).toContain('No line ends near');
    expect(none.strokes()).toHaveLength(0);
  });

  it('move and delete strokes by themselves, and switch the stage on', () => {
    const [a, b, c] = [dot, { ...dot, radiusPx: 6 }, { ...dot, radiusPx: 7 }];
    const off = cutOf(a, b, c);
    const { actions, strokes, state } = bench({}, { ...off, touchUp: { ...off.touchUp, on: false } });
    actions.moveHandStroke(0, 1);
    expect(strokes()).toEqual([b, a, c]);
    actions.moveHandStroke(2, 1);
    expect(strokes()).toEqual([b, a, c]);
    actions.deleteHandStroke(1);
    expect(strokes()).toEqual([b, c]);
    expect(state().cut.touchUp.on).toBe(true);
  });
});
