import { z } from 'zod';
import { outputSchema } from './output-settings';
import { MOST_OUTPUTS } from './settings';

/** Letters that the name of a set has at most. */
export const LONGEST_SET_NAME = 60;

export const setNameSchema = z
  .string()
  .trim()
  .min(1, 'name: expected at least one letter')
  .max(LONGEST_SET_NAME, `name: expected at most ${LONGEST_SET_NAME} letters`)
  .regex(/^[^\p{C}/\\]+$/u, 'name: expected letters that can be seen, without / and \\');

/** A set as it is kept and as a file. */
export const setSchema = z.strictObject({
  name: setNameSchema,
  outputs: z.array(outputSchema).min(1).max(MOST_OUTPUTS),
  hidden: z.enum(['removed', 'bled']),
});
