import { z } from 'zod';
import { wholeWithin, within } from '../shapes';
import { same, stageOf } from '../stage';
import { outputSchema, PNG_AS_IT_IS, type Output } from './output-settings';
import { outputWords } from './output-words';

/** Letters that the name of a file has at most. */
export const LONGEST_FILE_NAME = 200;

/** Letters of a line that is written into a file. */
export const LONGEST_CREDIT = 500;

/** Files of one set. */
export const MOST_OUTPUTS = 24;

export const PRINT_MM = { min: 1, max: 10_000 } as const;
export const PRINT_DPI = { min: 36, max: 2400 } as const;

/** How large a delivery is to be printed, and at which resolution it still looks sharp. */
export const printSchema = z.strictObject({
  widthMm: within(PRINT_MM),
  leastDpi: wholeWithin(PRINT_DPI),
});

const line = z.string().max(LONGEST_CREDIT);

/** What is written into files of whom they are; empty where nothing is. */
export const creditSchema = z.strictObject({ author: line, copyright: line, description: line });

export const deliverSchema = z.strictObject({
  fileName: z.string().min(1).max(LONGEST_FILE_NAME).nullable(),
  print: printSchema.nullable(),
  outputs: z.array(outputSchema).min(1).max(MOST_OUTPUTS),
  hidden: z.enum(['removed', 'bled']),
  credit: creditSchema,
});

export type Deliver = z.infer<typeof deliverSchema>;
export type Credit = z.infer<typeof creditSchema>;

/** A PNG named after its piece, as large as it is, of no print size. */
export const AS_NAMED: Deliver = {
  fileName: null,
  print: null,
  outputs: [PNG_AS_IT_IS],
  hidden: 'removed',
  credit: { author: '', copyright: '', description: '' },
};

export const DELIVER = stageOf('deliver', {
  name: 'Deliver',
  schema: deliverSchema,
  untouched: AS_NAMED,
  own: ['fileName'],
  describe(before, after) {
    if (before.fileName !== after.fileName) return 'rename the file';
    if (!same(before.print, after.print))
      return after.print ? `print ${after.print.widthMm} mm wide` : 'no print size';
    if (!same(before.outputs, after.outputs)) return describeOutputs(before.outputs, after.outputs);
    if (before.hidden !== after.hidden)
      return after.hidden === 'bled' ? 'bleed color outward' : 'remove hidden color';
    return same(before.credit, after.credit) ? null : 'change what is written into files';
  },
  summary({ outputs }, { deliveries }) {
    const names = outputs.length === 1 ? outputWords(outputs[0]!) : `${outputs.length} files`;
    if (deliveries === 0) return `${names}, not delivered`;
    return deliveries === 1 ? `${names}, delivered once` : `${names}, ${deliveries} deliveries`;
  },
  pixels: () => null,
});

function describeOutputs(before: readonly Output[], after: readonly Output[]): string {
  if (after.length === before.length + 1) return `add ${outputWords(after.at(-1)!)}`;
  if (after.length === before.length - 1) return 'one file less';
  const changed = after.length === before.length && after.find((one, k) => !same(one, before[k]));
  return changed ? `deliver ${outputWords(changed)}` : `deliver ${after.length} files`;
}
