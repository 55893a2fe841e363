import { z } from 'zod';
import type { Edge, Ink, Prepare, TouchUp } from './schema';

/** How the edge is when nobody has set it: as wide as it is found to be, freed of spill, not shaped. */
export const FOUND_EDGE: Omit<Edge, 'on'> = {
  widthPx: null,
  spill: 100,
  offsetPx: 0,
  softnessPx: 0,
  evenness: 0,
  firmness: 0,
  fineDetail: [],
};

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

/** Colors as they are found. */
export const FOUND_INK: Ink = { on: true, color: null, density: 0, light: false, colorways: [] };

/** Nothing put right by hand. */
export const NOTHING_MENDED: TouchUp = { on: true, mends: [] };

/** What is read of older cuts before they are brought up to date; everything else is checked afterwards. */
const version1Schema = z.looseObject({
  version: z.literal(1),
  edge: z.strictObject({ on: z.boolean() }),
});
const version2Schema = z.looseObject({
  version: z.literal(2),
  edge: z.strictObject({
    on: z.boolean(),
    offsetPx: z.unknown(),
    softnessPx: z.unknown(),
    evenness: z.unknown(),
    firmness: z.unknown(),
  }),
});

const version3Schema = z.looseObject({ version: z.literal(3) });

/** Fields that version 5 brought must not stand in an older one. */
const version4Schema = z.looseObject({
  version: z.literal(4),
  touchUp: z.undefined().optional(),
  findings: z.undefined().optional(),
});

const version5Schema = z.looseObject({ version: z.literal(5) });

export const olderSchema = z.discriminatedUnion('version', [
  version1Schema,
  version2Schema,
  version3Schema,
  version4Schema,
  version5Schema,
]);

/** An older cut as the same in the version that is written now: what it does not say stays as it is found. */
export function upgraded(cut: z.infer<typeof olderSchema>): unknown {
  if (cut.version === 5) return { ...cut, version: 6, clear: ruledByTolerance(cut.clear) };
  const { clear, deliver } = cut;
  const prepared =
    cut.version === 4
      ? cut
      : {
          ...cut,
          prepare: AS_IT_CAME,
          clear: isObject(clear) ? { ...clear, ink: null } : clear,
          ...(cut.version === 3 ? {} : { edge: { ...FOUND_EDGE, ...cut.edge } }),
          ink: FOUND_INK,
        };
  return {
    ...prepared,
    version: 6,
    clear: ruledByTolerance(prepared.clear),
    touchUp: NOTHING_MENDED,
    deliver: isObject(deliver) ? { ...deliver, print: null } : deliver,
    findings: { dismissed: [] },
  };
}

/** Before version 6 every sample cleared by its tolerance, and nothing was marked. What says otherwise must not stand in an older cut. */
function ruledByTolerance(clear: unknown): unknown {
  if (!isObject(clear) || !('samples' in clear) || !Array.isArray(clear.samples)) return clear;
  const samples = clear.samples.map((sample: unknown) =>
    isObject(sample) ? { ...sample, rule: 'rule' in sample ? undefined : 'tolerance' } : sample,
  );
  return { ...clear, samples, marks: 'marks' in clear ? undefined : [] };
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null;
}
