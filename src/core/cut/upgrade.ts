import { z } from 'zod';

// What was true when these versions were current. Nothing of today's settings is used: a cut must not change with them.

/** How edges were found when they were first estimated, with what was added up to version 3. */
const EDGE_AS_FOUND = {
  on: true,
  widthPx: null,
  spill: 100,
  offsetPx: 0,
  softnessPx: 0,
  evenness: 0,
  firmness: 0,
  fineDetail: [],
};

/** The one PNG that was delivered before version 8. */
const ONE_PNG = {
  outputs: [
    {
      format: 'png',
      size: {
        to: { kind: 'own' },
        trim: false,
        padding: { top: 0, right: 0, bottom: 0, left: 0, unit: 'px' },
        kernel: 'cubic',
        light: 'linear',
      },
    },
  ],
  hidden: 'removed',
  credit: { author: '', copyright: '', description: '' },
};

/** What is read of older cuts before they are brought up to date; everything else is checked afterwards. */
const version1Schema = z.looseObject({
  version: z.literal(1),
  /** The very first cuts have none: edges were not estimated. */
  edge: z.strictObject({ on: z.boolean() }).optional(),
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

/** Fields that version 7 brought must not stand in an older one. */
const version6Schema = z.looseObject({
  version: z.literal(6),
  touchUp: z
    .looseObject({ strokes: z.undefined().optional(), weightPx: z.undefined().optional() })
    .optional(),
});

const version7Schema = z.looseObject({ version: z.literal(7) });

export const olderSchema = z.discriminatedUnion('version', [
  version1Schema,
  version2Schema,
  version3Schema,
  version4Schema,
  version5Schema,
  version6Schema,
  version7Schema,
]);

/**
 * An older cut as the same in the version that is written now: what it does not say stays as it is found. Stages that it
 * does not name are left to the reading of cuts.
 */
export function upgraded(cut: z.infer<typeof olderSchema>): object {
  const { version } = cut;
  const clear = version === 1 && cut.edge === undefined ? asFirstWritten(cut.clear) : cut.clear;
  // A page that is named in an older cut is refused, since null is none.
  const page = 'page' in cut ? null : undefined;
  const current = { ...cut, version: 8, page, deliver: withOneOutput(cut.deliver, version) };
  if (version === 7) return current;
  if (version >= 5) {
    const touchUp = isObject(cut.touchUp) ? { ...cut.touchUp, strokes: [], weightPx: 0 } : cut.touchUp;
    return { ...current, touchUp, clear: version === 5 ? ruledByTolerance(clear) : clear };
  }
  return {
    ...current,
    ...(version < 4 ? { prepare: undefined, ink: undefined } : {}),
    touchUp: undefined,
    clear: ruledByTolerance(version < 4 && isObject(clear) ? { ...clear, ink: null } : clear),
    ...(version < 3 ? { edge: { ...EDGE_AS_FOUND, ...(cut.edge ?? { on: false }) } } : {}),
    findings: { dismissed: [] },
  };
}

/** The very first cuts, of version 1 as well, knew neither pockets nor backdrops that change. */
function asFirstWritten(clear: unknown): unknown {
  if (!isObject(clear) || 'pockets' in clear || !('samples' in clear) || !Array.isArray(clear.samples))
    return clear;
  const samples = clear.samples.map((sample: unknown) =>
    isObject(sample) ? { to: null, backdrop: 'flat', shade: { darker: 0, lighter: 0 }, ...sample } : sample,
  );
  return { ...clear, samples, pockets: [] };
}

/** Before version 8 one PNG was delivered, before version 5 without a print size. What says otherwise must not stand in an older cut. */
function withOneOutput(deliver: unknown, version: number): unknown {
  if (!isObject(deliver)) return deliver;
  if ('outputs' in deliver || 'hidden' in deliver || 'credit' in deliver)
    return { ...deliver, outputs: undefined };
  return { ...deliver, ...(version < 5 ? { print: null } : {}), ...ONE_PNG };
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
