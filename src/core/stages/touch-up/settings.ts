import { z } from 'zod';
import type { Matrix3 } from '../../numeric/matrix3';
import { BRUSH_PX, colorSchema, placeShape, wholeWithin, within } from '../shapes';
import { fieldWords, same, stageOf, type FarPlace, type Fields } from '../stage';
import { boundsOf, closedLine, isOutline, isPath, pathOf } from './path';

/** Mends that a cut holds at most. */
export const MOST_MENDS = 2000;

/** How far a mend may reach, in pixels of the original: one of residue or halo, and one of an island. */
export const MEND_REACH_PX = { min: 1, max: 1_000_000 } as const;
export const ISLAND_REACH_PX = { min: 1, max: 400 } as const;

export const RESIDUE_ALPHA = { min: 1, max: 64 } as const;

/** Something small that is put right at one place; see docs/cut-format.md for what each does. */
export const mendSchema = z.discriminatedUnion('mend', [
  z.strictObject({ mend: z.literal('speck'), ...placeShape, reachPx: wholeWithin(ISLAND_REACH_PX) }),
  z.strictObject({ mend: z.literal('pinhole'), ...placeShape, reachPx: wholeWithin(ISLAND_REACH_PX) }),
  z.strictObject({
    mend: z.literal('residue'),
    ...placeShape,
    reachPx: wholeWithin(MEND_REACH_PX),
    alpha: wholeWithin(RESIDUE_ALPHA),
  }),
  z.strictObject({
    mend: z.literal('halo'),
    ...placeShape,
    reachPx: wholeWithin(MEND_REACH_PX),
    background: colorSchema,
  }),
]);

/** Strokes that a cut holds at most, and the characters of all their paths together. */
export const MOST_HAND_STROKES = 1000;
export const MOST_PATH_CHARACTERS = 2_000_000;

/** How many units around its border a stroke fades, how much of it counts, and how far colors may differ: in percent, and in units of tolerance. */
export const SOFTNESS = { min: 0, max: 100 } as const;
export const STRENGTH = { min: 1, max: 100 } as const;
export const ALIKE_TOLERANCE = { min: 0, max: 100 } as const;

export const AREA_OFFSET_PX = { min: -200, max: 200 } as const;
export const AREA_SOFTNESS_PX = { min: 0, max: 400 } as const;
export const GAP_WIDTH_PX = { min: 0.3, max: 400 } as const;

const pathSchema = z.string().refine(isPath, 'expected places like "12.5,40 13,42", at most 4000');
const outlineSchema = z.string().refine(isOutline, 'expected corners like "12,40 80,40,6,2", at most 4000');

const brushShape = {
  radiusPx: within(BRUSH_PX),
  softness: within(SOFTNESS),
  strength: within(STRENGTH),
  /** What the pressure of a pen changes, where the path has it. */
  pressure: z.enum(['none', 'size', 'strength']),
  path: pathSchema,
};

/** Something that a hand did on the sheet; see docs/cut-format.md for what each does. */
export const handStrokeSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('brush'),
    does: z.enum(['clear', 'restore']),
    ...brushShape,
    alike: z
      .strictObject({ tolerance: within(ALIKE_TOLERANCE), reads: z.enum(['start', 'along']) })
      .nullable(),
  }),
  z.strictObject({ kind: z.literal('edge'), does: z.enum(['firmer', 'softer', 'spill']), ...brushShape }),
  z.strictObject({
    kind: z.literal('area'),
    does: z.enum(['clear', 'restore', 'only', 'never']),
    shape: z.enum(['outline', 'rectangle', 'ellipse']),
    corners: outlineSchema,
    offsetPx: within(AREA_OFFSET_PX),
    softnessPx: within(AREA_SOFTNESS_PX),
  }),
  z.strictObject({ kind: z.literal('island'), does: z.enum(['keep', 'clear']), ...placeShape }),
  z.strictObject({
    kind: z.literal('gap'),
    does: z.literal('close'),
    path: pathSchema.refine((path) => pathOf(path).xs.length === 2, 'expected two places'),
    widthPx: within(GAP_WIDTH_PX),
    endWidthPx: within(GAP_WIDTH_PX),
    color: colorSchema,
  }),
]);

export const TOUCH_UP_FIELDS = {
  weightPx: {
    label: 'Weight',
    unit: 'px',
    min: -5,
    max: 5,
    step: 0.1,
    note: 'thickens or thins everything, as lines of a signature',
    option: { name: 'weight', value: 'PX', help: ['thickens all lines, thins them below 0; -5 to 5'] },
  },
} as const satisfies Fields;

const settingsSchema = z.strictObject({
  on: z.boolean(),
  mends: z.array(mendSchema).max(MOST_MENDS),
  strokes: z
    .array(handStrokeSchema)
    .max(MOST_HAND_STROKES)
    .refine((all) => charactersOf(all) <= MOST_PATH_CHARACTERS, 'expected paths of at most 2 MB together'),
  weightPx: within(TOUCH_UP_FIELDS.weightPx),
});

export type Mend = z.infer<typeof mendSchema>;
export type HandStroke = z.infer<typeof handStrokeSchema>;
export type StrokeKind = HandStroke['kind'];
export type StrokeOf<K extends StrokeKind> = Extract<HandStroke, { kind: K }>;
/** Strokes with a path that a brush is led along. */
export type BrushStroke = StrokeOf<'brush' | 'edge'>;

/** `through` leads from the original to where strokes lie; absent where that is the same. It is never written down. */
export type TouchUp = z.infer<typeof settingsSchema> & { readonly through?: Matrix3 };

export const touchUpSchema: z.ZodType<TouchUp> = settingsSchema;

/** The characters of all paths. */
export function charactersOf(strokes: readonly HandStroke[]): number {
  return strokes.reduce((sum, stroke) => sum + pathTextOf(stroke).length, 0);
}

/** The places of a stroke, as they are written down. */
export function pathTextOf(stroke: HandStroke): string {
  if (stroke.kind === 'island') return `${stroke.x},${stroke.y}`;
  return stroke.kind === 'area' ? stroke.corners : stroke.path;
}

/** Nothing put right by hand. */
export const NOTHING_MENDED: TouchUp = { on: true, mends: [], strokes: [], weightPx: 0 };

const MENDS = {
  speck: 'clear a speck',
  pinhole: 'close a pinhole',
  residue: 'clear residue',
  halo: 'clean the rim',
} as const;

/** What a stroke does, in words: for undo, and for the list of strokes. */
export function strokeWords(stroke: HandStroke): string {
  switch (stroke.kind) {
    case 'brush':
      return `${stroke.does === 'clear' ? 'clear' : 'bring back'}${stroke.alike ? ' what is alike' : ''}`;
    case 'edge':
      return stroke.does === 'spill' ? 'take out more spill' : `make the edge ${stroke.does}`;
    case 'area':
      return AREA_WORDS[stroke.does];
    case 'island':
      return stroke.does === 'keep' ? 'keep only this piece' : 'clear this piece';
    case 'gap':
      return 'close a gap';
  }
}

const AREA_WORDS = {
  clear: 'clear an area',
  restore: 'bring an area back',
  only: 'act only here',
  never: 'never act here',
} as const;

/** Whether a stroke looks at more than the pixels it covers. */
export function looksAround(stroke: HandStroke): boolean {
  if (stroke.kind === 'brush') return stroke.does === 'restore' || stroke.alike !== null;
  return stroke.kind === 'area' && stroke.does === 'restore';
}

/** How far around a stroke its rim is un-mixed from, in pixels, with room for a frame that is turned. */
const AROUND_PX = 24;

/** A square that holds all of a stroke and what it looks at. */
function reachOf(stroke: HandStroke): FarPlace {
  const { left, top, right, bottom } = boundsOf(
    stroke.kind === 'area' ? closedLine(stroke.shape, stroke.corners) : pathOf(pathTextOf(stroke)),
  );
  const own =
    stroke.kind === 'area'
      ? Math.abs(stroke.offsetPx) + stroke.softnessPx
      : 'radiusPx' in stroke
        ? stroke.radiusPx
        : 0;
  const half = Math.max(right - left, bottom - top) / 2;
  // A square that is turned reaches farther by half.
  const reachPx = Math.ceil(1.5 * (half + own)) + AROUND_PX;
  return { x: Math.floor((left + right) / 2), y: Math.floor((top + bottom) / 2), reachPx };
}

function describeStrokes(before: readonly HandStroke[], after: readonly HandStroke[]): string | null {
  const more = after.length - before.length;
  if (more === 1) return strokeWords(after.at(-1)!);
  if (more > 1) return `${more} strokes`;
  if (more < 0) return more === -1 ? 'delete a stroke' : `delete ${-more} strokes`;
  const changed = after.filter((stroke, k) => !same(stroke, before[k]));
  if (changed.length === 0) return null;
  return changed.length === 1 ? `change: ${strokeWords(changed[0]!)}` : 'move a stroke';
}

export const TOUCH_UP = stageOf('touchUp', {
  name: 'Touch up',
  doing: 'touching up',
  schema: touchUpSchema,
  untouched: NOTHING_MENDED,
  fields: TOUCH_UP_FIELDS,
  own: ['mends', 'strokes'],
  describe(before, after) {
    const words = describeStrokes(before.strokes, after.strokes);
    if (words !== null) return words;
    const more = after.mends.length - before.mends.length;
    if (more === 1) return MENDS[after.mends.at(-1)!.mend];
    if (more > 1) return `mend ${more} places`;
    if (more < 0) return more === -1 ? 'delete a mend' : `delete ${-more} mends`;
    return null;
  },
  summary({ mends, strokes, weightPx }) {
    const parts = [
      strokes.length > 0 && many(strokes.length, 'stroke'),
      mends.length > 0 && `${many(mends.length, 'place')} mended`,
      ...fieldWords({ fields: TOUCH_UP_FIELDS, untouched: NOTHING_MENDED }, { weightPx }),
    ].filter((part) => typeof part === 'string');
    return parts.length === 0 ? 'nothing by hand' : parts.join(', ');
  },
  // Mends of things outside do nothing; what reaches far acts around its place all the same.
  // What hangs together, and what a rim is un-mixed from, does not end at the crop.
  beyondCrop({ on, strokes }) {
    if (!on) return [];
    if (strokes.some(({ kind }) => kind === 'island')) return 'all';
    return strokes.filter(looksAround).map(reachOf);
  },
  // Paths stay as they are written: what draws them leads them through.
  place: (touchUp, placing) => ({
    ...touchUp,
    through: placing.toWork,
    mends: touchUp.mends
      .filter((one) => one.mend === 'residue' || one.mend === 'halo' || placing.isInside(one))
      .map((one) => placing.at(one)),
  }),
});

function many(count: number, one: string): string {
  return `${count} ${one}${count === 1 ? '' : 's'}`;
}
