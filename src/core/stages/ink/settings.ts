import { z } from 'zod';
import { colorSchema, within } from '../shapes';
import { same, stageOf, type Fields } from '../stage';

/** Colorways that a cut holds at most, and letters that the name of one has at most. */
export const MOST_COLORWAYS = 24;
export const LONGEST_COLORWAY = 40;

export const INK_FIELDS = {
  density: {
    label: 'Density',
    unit: '%',
    min: 0,
    max: 100,
    note: 'darkens faint strokes; their outline stays',
    option: {
      name: 'density',
      value: 'N',
      help: ['makes faint ink denser without growing it, 0 to 100'],
    },
  },
} as const satisfies Fields;

export const colorwaySchema = z.strictObject({
  name: z
    .string()
    .max(LONGEST_COLORWAY)
    .regex(
      /^[\p{L}\p{N}]+([ ._-][\p{L}\p{N}]+)*$/u,
      'expected letters and digits, single spaces, dots or hyphens between',
    ),
  color: colorSchema,
});

export const inkSchema = z.strictObject({
  on: z.boolean(),
  color: colorSchema.nullable(),
  density: within(INK_FIELDS.density),
  light: z.boolean(),
  colorways: z.array(colorwaySchema).max(MOST_COLORWAYS),
});

export type Ink = z.infer<typeof inkSchema>;
export type Colorway = z.infer<typeof colorwaySchema>;

/** Colors as they are found. */
export const FOUND_INK: Ink = { on: true, color: null, density: 0, light: false, colorways: [] };

export const INK = stageOf('ink', {
  name: 'Ink',
  doing: 'inking',
  schema: inkSchema,
  untouched: FOUND_INK,
  fields: INK_FIELDS,
  describe(before, after) {
    if (before.color !== after.color) return after.color ? `ink ${after.color}` : 'keep the colors';
    if (before.density !== after.density) return null;
    if (before.light !== after.light) return after.light ? 'light version' : 'no light version';
    const more = after.colorways.length - before.colorways.length;
    if (more > 0) return 'add a colorway';
    if (more < 0) return 'delete a colorway';
    return same(before.colorways, after.colorways) ? null : 'change a colorway';
  },
  summary({ color, density, light, colorways: { length } }) {
    const parts = [
      color ?? 'own colors',
      density > 0 && `density ${density} %`,
      light && 'light',
      length > 0 && (length === 1 ? '1 colorway' : `${length} colorways`),
    ].filter((part) => typeof part === 'string');
    return parts.join(', ');
  },
  // Colorways are pictures of their own beside this one.
  pixels: ({ on, color, density, light }) => [on, color, density, light],
});
