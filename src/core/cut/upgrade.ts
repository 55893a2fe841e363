import { z } from 'zod';
import type { Edge } from './schema';

/** How the edge is when nobody has shaped it: alpha as it was estimated. */
export const UNSHAPED: Omit<Edge, 'on'> = { offsetPx: 0, softnessPx: 0, evenness: 0, firmness: 0 };

/** What is read of a cut of version 1 before it is brought up to date; everything else is checked afterwards. */
export const version1Schema = z.looseObject({
  version: z.literal(1),
  edge: z.strictObject({ on: z.boolean() }),
});

/** A cut of version 1, whose Edge could only be switched, as the same cut in version 2. */
export function fromVersion1(cut: z.infer<typeof version1Schema>): unknown {
  return { ...cut, version: 2, edge: { ...cut.edge, ...UNSHAPED } };
}
