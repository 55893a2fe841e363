import { z } from 'zod';
import { placeShape, pointSchema, within } from '../shapes';
import { same, stageOf, type Fields } from '../stage';

export const PREPARE_FIELDS = {
  straightenDeg: { label: 'Straighten', unit: '°', min: -45, max: 45, step: 0.05, note: 'clockwise above 0' },
  flatten: {
    label: 'Flatten uneven light',
    change: 'flatten light',
    unit: '%',
    min: 0,
    max: 100,
    note: 'divides out shadows and falling light',
  },
  calm: { label: 'Calm grain', unit: '%', min: 0, max: 100, note: 'hairlines stay' },
} as const satisfies Fields;

export const cropSchema = z.strictObject({
  ...placeShape,
  width: z.int().min(1),
  height: z.int().min(1),
});

export const turnSchema = z.literal([0, 90, 180, 270]);

export const prepareSchema = z.strictObject({
  on: z.boolean(),
  corners: z.tuple([pointSchema, pointSchema, pointSchema, pointSchema]).nullable(),
  flip: z.boolean(),
  turn: turnSchema,
  straightenDeg: within(PREPARE_FIELDS.straightenDeg),
  crop: cropSchema.nullable(),
  flatten: within(PREPARE_FIELDS.flatten),
  calm: within(PREPARE_FIELDS.calm),
  removeRules: z.boolean(),
});

export type Prepare = z.infer<typeof prepareSchema>;
/** A rectangle of the picture as it is after turning and straightening, in its pixels. */
export type Crop = z.infer<typeof cropSchema>;
export type Turn = z.infer<typeof turnSchema>;

/** A picture as it came: nothing turned, cropped or evened out. */
export const AS_IT_CAME: Prepare = {
  on: true,
  corners: null,
  flip: false,
  turn: 0,
  straightenDeg: 0,
  crop: null,
  flatten: 0,
  calm: 0,
  removeRules: false,
};

export const PREPARE = stageOf('prepare', {
  name: 'Prepare',
  doing: 'preparing',
  schema: prepareSchema,
  untouched: AS_IT_CAME,
  fields: PREPARE_FIELDS,
  own: ['corners', 'flip', 'turn', 'straightenDeg', 'crop'],
  describe(before, after) {
    if (before.on !== after.on) return null;
    if (!same(before.corners, after.corners))
      return after.corners ? 'set the corners of the sheet' : 'no corners of a sheet';
    if (before.flip !== after.flip) return 'flip';
    if (before.turn !== after.turn) return `turn to ${after.turn}°`;
    if (before.straightenDeg !== after.straightenDeg) return null;
    if (!same(before.crop, after.crop))
      return after.crop ? `crop to ${after.crop.width} x ${after.crop.height}` : 'no crop';
    if (before.removeRules !== after.removeRules)
      return after.removeRules ? 'remove ruled lines' : 'leave ruled lines';
    return null;
  },
  summary({ corners, turn, flip, straightenDeg, crop, flatten, calm, removeRules }) {
    const parts = [
      crop && `${crop.width} x ${crop.height}`,
      straightenDeg !== 0 && `${straightenDeg}°`,
      turn !== 0 && `turned ${turn}°`,
      flip && 'flipped',
      corners && 'squared up',
      flatten > 0 && 'light',
      removeRules && 'rules',
      calm > 0 && 'grain',
    ].filter((part) => typeof part === 'string');
    return parts.length === 0 ? 'as it came' : parts.join(', ');
  },
  // A picture that lies on its work area is prepared.
  place: () => AS_IT_CAME,
});
