import { z } from 'zod';
import { FOUND_EDGE } from '../stages/edge/settings';

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

/**
 * An older cut as the same in the version that is written now: what it does not say stays as it is found. Stages that it
 * does not name are left to the reading of cuts.
 */
export function upgraded(cut: z.infer<typeof olderSchema>): object {
  const { version, clear, deliver } = cut;
  if (version === 5) return { ...cut, version: 6, clear: ruledByTolerance(clear) };
  return {
    ...cut,
    version: 6,
    ...(version < 4 ? { prepare: undefined, ink: undefined } : {}),
    touchUp: undefined,
    clear: ruledByTolerance(version < 4 && isObject(clear) ? { ...clear, ink: null } : clear),
    ...(version < 3 ? { edge: { ...FOUND_EDGE, ...(cut.edge as object) } } : {}),
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
