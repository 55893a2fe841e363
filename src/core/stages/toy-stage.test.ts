import { describe, expect, it } from 'vitest';
import { blotches } from '../../../tests/make/pictures';
import {
  drawn,
  TOY,
  toyCut,
  toyStages as stages,
  toyTable as table,
  type Toy,
} from '../../../tests/make/toy-stage';
import { describeChange } from '../cut/describe';
import { pixelKey } from '../cut/keys';
import { parseCut, untouchedCut } from '../cut/parse';
import { newSample } from '../cut/new-sample';
import type { Cut } from '../cut/schema';
import { runToEnd } from '../numeric/steps';
import { renderCut, renderPrepared, renderStages } from '../render';
import { wholeOf } from '../raster/raster';
import { withProposed } from '../proposal/onto-cut';
import { sceneOf } from '../scene/scene';
import { Kept } from './kept';
import { frameOf } from './prepare/frame';
import { framedCut } from './prepare/framed-cut';
import { summarize } from './stage';

describe('a stage that is added to the table', () => {
  it('is a part of cuts: untouched, checked, and absent from older ones', () => {
    expect(untouchedCut(stages)).toMatchObject({ toy: TOY.untouched });
    const cut = toyCut({ shadePercent: 30 });
    expect(parseCut(structuredClone(cut), stages)).toEqual(cut);
    expect(() => parseCut(toyCut({ shadePercent: 130 }), stages)).toThrow(/cut\.toy\.shadePercent/);
    expect(parseCut(untouchedCut(), stages)).toEqual(untouchedCut(stages));
    expect(() => parseCut(cut)).toThrow(/unknown field toy/);
  });

  it('keeps its settings where a run proposes how to clear a piece', () => {
    const cut = toyCut({ shadePercent: 30 });
    const { prepare, clear } = untouchedCut();
    const made = withProposed(cut, {
      prepare,
      clear: { ...clear, samples: [newSample('s1', 1, 1)] },
    }) as unknown as { toy: Toy } & Cut;
    expect(made.toy).toEqual({ ...TOY.untouched, shadePercent: 30 });
    expect(made.clear.samples).toHaveLength(1);
    expect(made.edge).toEqual(cut.edge);
  });

  it('has names for its steps in undo, and words for the strip', () => {
    const words = { cleared: null, deliveries: 0 };
    expect(describeChange(toyCut({}), toyCut({ shadePercent: 30 }), stages)).toBe('shade 30 %');
    expect(describeChange(toyCut({}), toyCut({ on: false }), stages)).toBe('switch Toy off');
    expect(describeChange(toyCut({}), toyCut({ spots: [{ x: 1, y: 1 }] }), stages)).toBe('change Toy');
    expect(summarize(TOY, { ...TOY.untouched, shadePercent: 30 }, words)).toBe('shade 30\u00a0%');
    expect(summarize(TOY, TOY.untouched, words)).toBe('nothing set');
    expect(summarize(TOY, { ...TOY.untouched, on: false }, words)).toBe('switched off');
  });

  it('tells cuts apart, and lies where the frame does', () => {
    const cut = toyCut({ spots: [{ x: 12, y: 9 }] });
    expect(pixelKey(cut, stages)).not.toBe(pixelKey(toyCut({}), stages));
    const cropped = { ...cut, prepare: { ...cut.prepare, crop: { x: 10, y: 5, width: 20, height: 20 } } };
    const frame = frameOf(cropped.prepare, 60, 40);
    const placed = framedCut(cropped, frame, frame.crop, stages) as unknown as { toy: Toy };
    expect(placed.toy.spots).toEqual([{ x: 2, y: 4 }]);
  });

  it('is drawn in its place, for whole pictures, parts and the pictures of the strip', () => {
    const picture = blotches(60, 40, 3);
    const cut = toyCut({ shadePercent: 50, spots: [{ x: 12, y: 9 }] });
    const inked = { ...cut, ink: { ...cut.ink, color: '#204060' } };
    const { data } = renderCut(picture, cut, { table }).raster;
    const at = (9 * 60 + 12) * 4;
    expect([...data.subarray(at, at + 3)]).toEqual([255, 0, 0]);
    expect(data[0]).toBe(Math.round(picture.data[0]! / 2));
    // Ink stands behind it and colors what it has painted.
    expect([...renderCut(picture, inked, { table }).raster.data.subarray(at, at + 3)]).toEqual([32, 64, 96]);
    const after = renderStages(sceneOf(picture), inked, new Kept(1e6), wholeOf(picture), table)!;
    expect([...after.keys()]).toEqual(['', 'toy', 'ink']);
    expect(after.get('toy')!.data).toEqual(data);
  });

  it('is not drawn again where only a later stage changes', () => {
    const picture = blotches(60, 40, 5);
    const scene = sceneOf(picture);
    const kept = Kept.of(picture);
    const render = (cut: Cut) =>
      runToEnd(renderPrepared(scene, { cut, window: wholeOf(picture) }, kept, table)).raster.data;
    const cut = toyCut({ shadePercent: 50 });
    const colored = (color: string) => ({ ...cut, ink: { ...cut.ink, color } });
    drawn.pixels = 0;
    render(colored('#204060'));
    expect(drawn.pixels).toBe(60 * 40);
    for (const color of ['#800000', '#008000', '#204060'])
      expect(render(colored(color))).toEqual(renderCut(picture, colored(color), { table }).raster.data);
    // Once, beside those three that nothing was kept for.
    expect(drawn.pixels).toBe(4 * 60 * 40);
    render(toyCut({ shadePercent: 20 }));
    expect(drawn.pixels).toBe(5 * 60 * 40);
  });
});
