import { z } from 'zod';
import { untouchedCut } from '../../src/core/cut/parse';
import type { Cut } from '../../src/core/cut/schema';
import { placeShape, within } from '../../src/core/stages/shapes';
import { stageOf, type Stage } from '../../src/core/stages/stage';
import { STAGES } from '../../src/core/stages/stages';
import { partOf, type Work } from '../../src/core/stages/work';
import { TABLE, type StageTable } from '../../src/core/stages/works';

export interface Toy {
  on: boolean;
  shadePercent: number;
  spots: { x: number; y: number }[];
}

/** A stage that makes everything darker, and paints single pixels red. */
export const TOY = stageOf<'toy', Toy>('toy', {
  name: 'Toy',
  schema: z.strictObject({
    on: z.boolean(),
    shadePercent: within({ min: 0, max: 100 }),
    spots: z.array(z.strictObject(placeShape)),
  }),
  untouched: { on: true, shadePercent: 0, spots: [] },
  fields: {
    shadePercent: {
      label: 'Shade',
      unit: '%',
      min: 0,
      max: 100,
      option: { name: 'shade-by', value: 'N', help: ['makes everything darker, 0 to 100'] },
    },
  },
  own: ['spots'],
  place: (toy, placing) => ({ ...toy, spots: toy.spots.map((spot) => placing.at(spot)) }),
});

/** Pixels that the stage has drawn. */
export const drawn = { pixels: 0 };

const WORK: Work<Toy> = {
  keeps: true,
  ready({ cut }) {
    const { toy } = cut as unknown as { readonly toy: Toy };
    return toy.on && (toy.shadePercent > 0 || toy.spots.length > 0) ? toy : null;
  },
  around: (_, rect) => rect,
  into({ shadePercent, spots }, before, wide, rect, out) {
    drawn.pixels += rect.width * rect.height;
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
export const toyStages: readonly Stage[] = [...STAGES.slice(0, 3), TOY, ...STAGES.slice(3)];
export const toyTable: StageTable = { stages: toyStages, works: { ...TABLE.works, toy: WORK } };
export const toyCut = (toy: Partial<Toy>, change: Partial<Cut> = {}): Cut =>
  ({ ...untouchedCut(toyStages), ...change, toy: { ...TOY.untouched, ...toy } }) as unknown as Cut;
