import { z } from 'zod';
import { OUTPUT_FORMATS } from '../../formats';
import { wholeWithin, within } from '../shapes';
import { same, stageOf } from '../stage';

/** Letters that the name of a file has at most. */
export const LONGEST_FILE_NAME = 200;

export const PRINT_MM = { min: 1, max: 10_000 } as const;
export const PRINT_DPI = { min: 36, max: 2400 } as const;

/** How large a delivery is to be printed, and at which resolution it still looks sharp. */
export const printSchema = z.strictObject({
  widthMm: within(PRINT_MM),
  leastDpi: wholeWithin(PRINT_DPI),
});

export const deliverSchema = z.strictObject({
  fileName: z.string().min(1).max(LONGEST_FILE_NAME).nullable(),
  print: printSchema.nullable(),
});

export type Deliver = z.infer<typeof deliverSchema>;

/** A file named after its piece, of no print size. */
export const AS_NAMED: Deliver = { fileName: null, print: null };

export const DELIVER = stageOf('deliver', {
  name: 'Deliver',
  schema: deliverSchema,
  untouched: AS_NAMED,
  own: ['fileName'],
  describe(before, after) {
    if (before.fileName !== after.fileName) return 'rename the file';
    if (same(before.print, after.print)) return null;
    return after.print ? `print ${after.print.widthMm} mm wide` : 'no print size';
  },
  summary(_, { deliveries }) {
    const { name } = OUTPUT_FORMATS.png;
    if (deliveries === 0) return `${name}, not delivered`;
    return deliveries === 1 ? `${name}, delivered once` : `${name}, ${deliveries} deliveries`;
  },
  pixels: () => null,
});
