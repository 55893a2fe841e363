import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { blotches } from '../../../tests/make/pictures';
import { describeChange } from '../cut/describe';
import { pixelKey } from '../cut/keys';
import { parseCut, untouchedCut } from '../cut/parse';
import type { Cut } from '../cut/schema';
import { runToEnd } from '../numeric/steps';
import { renderCut, renderPrepared, renderStages } from '../render';
import { wholeOf } from '../raster/raster';
import { sceneOf } from '../scene/scene';
import { Kept } from './kept';
import { frameOf } from './prepare/frame';
import { framedCut } from './prepare/framed-cut';
import { placeShape, within } from './shapes';
import { stageOf, summarize, type Stage } from './stage';
import { STAGES } from './stages';
import { partOf, type Work } from './work';
import { TABLE, type StageTable } from './works';

interface Toy {
  on: boolean;
  shadePercent: number;
  spots: { x: number; y: number }[];
}

/** A stage that makes everything darker, and paints single pixels red. */
const TOY = stageOf<'toy', Toy>('toy', {
  name: 'Toy',
  schema: z.strictObject({
    on: z.boolean(),
    shadePercent: within({ min: 0, max: 100 }),
    spots: z.array(z.strictObject(placeShape)),
  }),
  untouched: { on: true, shadePercent: 0, spots: [] },
  fields: { shadePercent: { label: 'Shade', unit: '%', min: 0, max: 100 } },
  own: ['spots'],
  place: (toy, placing) => ({ ...toy, spots: toy.spots.map((spot) => placing.at(spot)) }),
});

let drawn = 0;
const WORK: Work<Toy> = {
  keeps: true,
  ready({ cut }) {
    const { toy } = cut as unknown as { readonly toy: Toy };
    return toy.on && (toy.shadePercent > 0 || toy.spots.length > 0) ? toy : null;
  },
  around: (_, rect) => rect,
  into({ shadePercent, spots }, before, wide, rect, out) {
    drawn += rect.width * rect.height;
    out.data.set(partOf(before, wide).data);
    for (let p = 0; p < out.data.length; p++)
      if (p % 4 < 3) out.data[p] = Math.round(out.data[p]! * (1 - shadePercent / 100));
    for (const { x, y } of spots) {
      const [u, v] = [x - rect.x, y - rect.y];
      if (u >= 0 && v >= 0 && u < rect.width && v < rect.height)
        out.data.set([255, 0, 0], (v * rect.width + u) * 4);
    }
  },
};

/** Toy stands between Edge and Touch up. */
const stages: readonly Stage[] = [...STAGES.slice(0, 3), TOY, ...STAGES.slice(3)];
const table: StageTable = { stages, works: { ...TABLE.works, toy: WORK } };
const cutWith = (toy: Partial<Toy>, change: Partial<Cut> = {}): Cut =>
  ({ ...untouchedCut(stages), ...change, toy: { ...TOY.untouched, ...toy } }) as unknown as Cut;

describe('a stage that is added to the table', () => {
  it('is a part of cuts: untouched, checked, and absent from older ones', () => {
    expect(untouchedCut(stages)).toMatchObject({ toy: TOY.untouched });
    const cut = cutWith({ shadePercent: 30 });
    expect(parseCut(structuredClone(cut), stages)).toEqual(cut);
    expect(() => parseCut(cutWith({ shadePercent: 130 }), stages)).toThrow(/cut\.toy\.shadePercent/);
    expect(parseCut(untouchedCut(), stages)).toEqual(untouchedCut(stages));
    expect(() => parseCut(cut)).toThrow(/unknown field toy/);
  });

  it('has names for its steps in undo, and words for the strip', () => {
    const words = { cleared: null, deliveries: 0 };
    expect(describeChange(cutWith({}), cutWith({ shadePercent: 30 }), stages)).toBe('shade 30 %');
    expect(describeChange(cutWith({}), cutWith({ on: false }), stages)).toBe('switch Toy off');
    expect(describeChange(cutWith({}), cutWith({ spots: [{ x: 1, y: 1 }] }), stages)).toBe('change Toy');
    expect(summarize(TOY, { ...TOY.untouched, shadePercent: 30 }, words)).toBe('shade 30\u00a0%');
    expect(summarize(TOY, TOY.untouched, words)).toBe('nothing set');
    expect(summarize(TOY, { ...TOY.untouched, on: false }, words)).toBe('switched off');
  });

  it('tells cuts apart, and lies where the frame does', () => {
    const cut = cutWith({ spots: [{ x: 12, y: 9 }] });
    expect(pixelKey(cut, stages)).not.toBe(pixelKey(cutWith({}), stages));
    const cropped = { ...cut, prepare: { ...cut.prepare, crop: { x: 10, y: 5, width: 20, height: 20 } } };
    const frame = frameOf(cropped.prepare, 60, 40);
    const placed = framedCut(cropped, frame, frame.crop, stages) as unknown as { toy: Toy };
    expect(placed.toy.spots).toEqual([{ x: 2, y: 4 }]);
  });

  it('is drawn in its place, for whole pictures, parts and the pictures of the strip', () => {
    const picture = blotches(60, 40, 3);
    const cut = cutWith({ shadePercent: 50, spots: [{ x: 12, y: 9 }] });
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
    const cut = cutWith({ shadePercent: 50 });
    const colored = (color: string) => ({ ...cut, ink: { ...cut.ink, color } });
    drawn = 0;
    render(colored('#204060'));
    expect(drawn).toBe(60 * 40);
    for (const color of ['#800000', '#008000', '#204060'])
      expect(render(colored(color))).toEqual(renderCut(picture, colored(color), { table }).raster.data);
    // Once, beside those three that nothing was kept for.
    expect(drawn).toBe(4 * 60 * 40);
    render(cutWith({ shadePercent: 20 }));
    expect(drawn).toBe(5 * 60 * 40);
  });
});
