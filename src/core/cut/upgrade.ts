import { z } from 'zod';
import type { Edge } from './schema';

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

export const olderSchema = z.discriminatedUnion('version', [version1Schema, version2Schema]);

/** An older cut as the same in the version that is written now: what it does not say stays as it is found. */
export function upgraded(cut: z.infer<typeof olderSchema>): unknown {
  return { ...cut, version: 3, edge: { ...FOUND_EDGE, ...cut.edge } };
}
