import { z } from 'zod';
import { strokeSchema, wholeWithin, within } from '../shapes';
import { fieldWords, stageOf, type Fields } from '../stage';

/** Strokes over fine detail that a cut holds at most. */
export const MOST_STROKES = 200;

const HUNDRED = { min: 0, max: 100 } as const;

export const EDGE_FIELDS = {
  widthPx: {
    label: 'Width',
    unit: 'px',
    min: 1,
    max: 12,
    whole: true,
    note: 'on either side of the border',
    change: 'edge width',
    unset: 'as found',
    option: {
      name: 'width',
      value: 'PX',
      help: [
        'how far on either side of the border pixels are solved as mixtures, 1 to 12 in whole pixels',
        '(without it: found at each place)',
      ],
    },
  },
  spill: {
    label: 'Spill',
    unit: '%',
    ...HUNDRED,
    note: 'how much of the old background leaves the colors',
    option: {
      name: 'spill',
      value: 'N',
      help: ['how much of the old background is taken out of colors, 0 to 100 (without it: 100)'],
    },
  },
  offsetPx: {
    label: 'Offset',
    unit: 'px',
    min: -20,
    max: 20,
    step: 0.1,
    option: {
      name: 'offset',
      value: 'PX',
      help: ['moves the edge outward, inward below 0; -20 to 20, decimals allowed'],
    },
  },
  softnessPx: {
    label: 'Softness',
    unit: 'px',
    min: 0,
    max: 40,
    step: 0.1,
    short: 'soft',
    option: { name: 'softness', value: 'PX', help: ['width over which the edge passes, 0 to 40'] },
  },
  evenness: {
    label: 'Evenness',
    ...HUNDRED,
    short: 'even',
    note: 'irons out stair-steps and wobble; corners stay',
    option: { name: 'evenness', value: 'N', help: ['irons out stair-steps and wobble, 0 to 100'] },
  },
  firmness: {
    label: 'Firmness',
    ...HUNDRED,
    short: 'firm',
    note: 'makes the transition steeper',
    option: { name: 'firmness', value: 'N', help: ['makes the transition steeper, 0 to 100'] },
  },
} as const satisfies Fields;

export const edgeSchema = z.strictObject({
  on: z.boolean(),
  widthPx: wholeWithin(EDGE_FIELDS.widthPx).nullable(),
  spill: within(EDGE_FIELDS.spill),
  offsetPx: within(EDGE_FIELDS.offsetPx),
  softnessPx: within(EDGE_FIELDS.softnessPx),
  evenness: within(EDGE_FIELDS.evenness),
  firmness: within(EDGE_FIELDS.firmness),
  fineDetail: z.array(strokeSchema).max(MOST_STROKES),
});

export type Edge = z.infer<typeof edgeSchema>;
/** Settings of the edge that are one number. */
export type EdgeNumber = keyof typeof EDGE_FIELDS;

/** How the edge is when nobody has set it: as wide as it is found to be, freed of spill, not shaped. */
export const FOUND_EDGE: Edge = {
  on: true,
  widthPx: null,
  spill: 100,
  offsetPx: 0,
  softnessPx: 0,
  evenness: 0,
  firmness: 0,
  fineDetail: [],
};

export const EDGE = stageOf('edge', {
  name: 'Edge',
  doing: 'solving edges of',
  schema: edgeSchema,
  untouched: FOUND_EDGE,
  fields: EDGE_FIELDS,
  own: ['fineDetail'],
  describe({ fineDetail: { length: before } }, { fineDetail: { length: after } }) {
    if (after > before) return 'paint fine detail';
    if (after < before) return after === 0 ? 'delete all fine detail' : 'delete a stroke of fine detail';
    return null;
  },
  summary({ widthPx, offsetPx, fineDetail, ...others }) {
    const parts = [
      widthPx !== null && `${widthPx} px wide`,
      fineDetail.length > 0 && `fine detail ${fineDetail.length}`,
      offsetPx !== 0 && `${offsetPx > 0 ? '+' : ''}${offsetPx} px`,
      ...fieldWords({ fields: EDGE_FIELDS, untouched: FOUND_EDGE }, others),
    ].filter((part) => typeof part === 'string');
    return parts.length === 0 ? 'from the mixture' : parts.join(', ');
  },
  place: (edge, placing) => ({ ...edge, fineDetail: edge.fineDetail.map((one) => placing.stroke(one)) }),
});
