import { z } from 'zod';
import { ANCHORS, QUALITY } from '../stages/deliver/output-settings';
import { LONGEST_FILE_NAME } from '../stages/deliver/settings';
import { LONGEST_COLORWAY } from '../stages/ink/settings';
import { colorSchema, within, wholeWithin } from '../stages/shapes';

/** The version this program writes. */
export const WATERMARK_VERSION = 2;

export const LONGEST_WATERMARK_NAME = 60;
export const LONGEST_TEXT = 300;
export const MOST_TEXT_LINES = 6;
export const MOST_GROUPS = 6;
export const MOST_PARTS = 6;

/** Sizes, gaps and all lengths of a look: 100 is the size of letters of a text that is as large as it begins. */
export const PART_SIZE = { min: 5, max: 1000 } as const;
export const GAP = { min: -100, max: 400 } as const;
export const TRACKING = { min: -100, max: 500 } as const;
export const LINE_HEIGHT = { min: 70, max: 250 } as const;
export const WEIGHT = { min: 100, max: 900 } as const;
export const OUTLINE_WIDTH = { min: 0, max: 20 } as const;
export const SHADOW_OFFSET = { min: -60, max: 60 } as const;
export const SHADOW_BLUR = { min: 0, max: 60 } as const;
export const PLATE_ROOM = { min: 0, max: 150 } as const;
export const PERCENT = { min: 0, max: 100 } as const;
export const MARK_OPACITY = { min: 5, max: 100 } as const;
export const MARK_CONTRAST = { min: 1, max: 7 } as const;
export const MARK_SIZE = { min: 1, max: 100 } as const;
export const INSET = { min: 0, max: 40 } as const;
export const MARK_ANGLE_DEG = { min: -180, max: 180 } as const;
export const MOST_SHARE = { min: 1, max: 100 } as const;
export const TILE_GAP = { min: 0, max: 500 } as const;
export const LONG_SIDE_PX = { min: 16, max: 20_000 } as const;
export const MEGAPIXELS = { min: 0.01, max: 200 } as const;

/** A picture or a font in a document, in base 64: so many letters at most, about 10 MB. */
export const MOST_EMBEDDED = 14_000_000;

/** The typefaces that ship, with the weights that each has. */
export const TYPEFACES = {
  'work-sans': { name: 'Work Sans', kind: 'sans', weights: [300, 400, 600] },
  jost: { name: 'Jost', kind: 'sans, geometric', weights: [300, 400, 600] },
  'eb-garamond': { name: 'EB Garamond', kind: 'serif', weights: [400, 600] },
  lora: { name: 'Lora', kind: 'serif', weights: [400, 600] },
  'playfair-display': { name: 'Playfair Display', kind: 'serif, high contrast', weights: [400, 700] },
  'zilla-slab': { name: 'Zilla Slab', kind: 'slab', weights: [300, 400, 600] },
  'dancing-script': { name: 'Dancing Script', kind: 'script', weights: [400, 700] },
  'great-vibes': { name: 'Great Vibes', kind: 'script, formal', weights: [400] },
  caveat: { name: 'Caveat', kind: 'script, by hand', weights: [400, 700] },
  oswald: { name: 'Oswald', kind: 'condensed', weights: [300, 400, 600] },
  'barlow-condensed': { name: 'Barlow Condensed', kind: 'condensed', weights: [300, 400, 600] },
  'ibm-plex-mono': { name: 'IBM Plex Mono', kind: 'mono', weights: [300, 400, 600] },
} as const satisfies Record<
  string,
  { readonly name: string; readonly kind: string; readonly weights: readonly number[] }
>;

export type Typeface = keyof typeof TYPEFACES;

const typefaceKeys = Object.keys(TYPEFACES) as [Typeface, ...Typeface[]];

const shaSchema = z.string().regex(/^[0-9a-f]{64}$/, 'expected a SHA-256');
const base64Schema = z
  .string()
  .max(MOST_EMBEDDED, `expected at most ${MOST_EMBEDDED} letters`)
  .regex(/^[A-Za-z0-9+/]*={0,2}$/, 'expected base 64');

const materialNameSchema = z.string().max(200);

/**
 * The letters of a text: those of a typeface that ships, of a font file that is kept beside the document under its hash, or, in
 * documents that are handed on, of one in the document itself.
 */
export const fontSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('shipped'), which: z.enum(typefaceKeys) }),
  z.strictObject({ kind: z.literal('brought'), name: materialNameSchema, file: shaSchema }),
  z.strictObject({ kind: z.literal('embedded'), name: materialNameSchema, data: base64Schema }),
]);

const idSchema = z.string().regex(/^[a-z0-9]{1,16}$/, 'expected letters and digits');

export const textPartSchema = z.strictObject({
  kind: z.literal('text'),
  id: idSchema,
  /** Lines are parted by line breaks; fields like {year} are filled in for each photo. */
  text: z
    .string()
    .max(LONGEST_TEXT, `expected at most ${LONGEST_TEXT} letters`)
    .refine(
      (text) => text.split('\n').length <= MOST_TEXT_LINES,
      `expected at most ${MOST_TEXT_LINES} lines`,
    ),
  font: fontSchema,
  weight: wholeWithin(WEIGHT),
  size: within(PART_SIZE),
  /** Thousandths of the size between letters. */
  tracking: within(TRACKING),
  /** Percent of the size. */
  lineHeight: within(LINE_HEIGHT),
  case: z.enum(['typed', 'upper', 'lower']),
  align: z.enum(['left', 'center', 'right']),
});

/**
 * Where the pixels of a cutout come from: a piece of the Shelf in one of its versions, a picture that is kept beside the document
 * under its hash, or, in documents that are handed on, the document itself.
 */
export const cutoutSourceSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('piece'),
    piece: z.string().regex(/^[0-9a-f]{16}$/, 'expected the id of a piece'),
    colorway: z.string().max(LONGEST_COLORWAY).nullable(),
    light: z.boolean(),
  }),
  z.strictObject({ kind: z.literal('kept'), name: materialNameSchema, file: shaSchema }),
  z.strictObject({ kind: z.literal('embedded'), name: materialNameSchema, data: base64Schema }),
]);

export const cutoutPartSchema = z.strictObject({
  kind: z.literal('cutout'),
  id: idSchema,
  source: cutoutSourceSchema,
  /** Its height. */
  size: within(PART_SIZE),
  /** In the mark's color instead of its own ones. */
  painted: z.boolean(),
});

export const partSchema = z.discriminatedUnion('kind', [textPartSchema, cutoutPartSchema]);

/** Parts in a row beside each other, or in a column above each other: as the watermark is laid out. */
export const groupSchema = z.strictObject({
  parts: z.array(partSchema).min(1).max(MOST_PARTS),
  /** Between its parts. */
  gap: within(GAP),
  /** How parts of different sizes stand to each other. */
  align: z.enum(['start', 'middle', 'end']),
});

export const lookSchema = z.strictObject({
  /** The colors of the light and of the dark version. */
  light: colorSchema,
  dark: colorSchema,
  /** `auto`: the one with more contrast on what lies under it. */
  version: z.enum(['auto', 'light', 'dark']),
  opacity: within(MARK_OPACITY),
  blend: z.enum(['normal', 'lighten', 'darken']),
  /** Around it, in the color of the other version where none is named. */
  outline: z.strictObject({ width: within(OUTLINE_WIDTH), color: colorSchema.nullable() }).nullable(),
  shadow: z
    .strictObject({
      x: within(SHADOW_OFFSET),
      y: within(SHADOW_OFFSET),
      blur: within(SHADOW_BLUR),
      opacity: within(PERCENT),
      color: colorSchema.nullable(),
    })
    .nullable(),
  plate: z
    .strictObject({
      color: colorSchema.nullable(),
      opacity: within(PERCENT),
      room: within(PLATE_ROOM),
      corner: within(PLATE_ROOM),
    })
    .nullable(),
  contrast: z.strictObject({
    /** What nine tenths of its edge have at least. */
    least: within(MARK_CONTRAST),
    /** So far what lies under it is darkened or lightened before the mark is made more opaque, in percent. */
    most: within(PERCENT),
  }),
});

export const placeSchema = z.strictObject({
  size: z.strictObject({
    of: z.enum(['width', 'height', 'shorter', 'area']),
    percent: within(MARK_SIZE),
  }),
  anchor: z.enum(ANCHORS),
  /** From the edges, in percent of the shorter side. */
  inset: within(INSET),
  angleDeg: within(MARK_ANGLE_DEG),
  /** Looks for the calmest place near the anchor. */
  quiet: z.boolean(),
  /** So much of the picture it may change, in percent; it is made smaller where it would change more. */
  mostShare: within(MOST_SHARE),
  tiled: z
    .strictObject({
      /** Between copies, in percent of the mark's width and height. */
      across: within(TILE_GAP),
      down: within(TILE_GAP),
      /** Every other row begins so much of a step later, in percent. */
      stagger: within(PERCENT),
    })
    .nullable(),
});

export const watermarkNameSchema = z
  .string()
  .trim()
  .min(1, 'name: expected at least one letter')
  .max(LONGEST_WATERMARK_NAME, `name: expected at most ${LONGEST_WATERMARK_NAME} letters`)
  .regex(/^[^\p{C}/\\]+$/u, 'name: expected letters that can be seen, without / and \\');

/** A watermark as it is kept and as a file; docs/watermarks.md describes every field. */
export const watermarkSchema = z.strictObject({
  format: z.literal('kenosis-watermark'),
  version: z.literal(WATERMARK_VERSION),
  name: watermarkNameSchema,
  layout: z.strictObject({
    /** `rows`: parts of a group beside each other, groups above each other; `columns`: the other way round. */
    of: z.enum(['rows', 'columns']),
    /** Between groups, and how they stand to each other. */
    gap: within(GAP),
    align: z.enum(['start', 'middle', 'end']),
    groups: z
      .array(groupSchema)
      .max(MOST_GROUPS)
      .refine((groups) => {
        const ids = groups.flatMap(({ parts }) => parts.map(({ id }) => id));
        return new Set(ids).size === ids.length;
      }, 'expected each id of a part once'),
  }),
  look: lookSchema,
  place: placeSchema,
  /** On photos that are higher than wide; null: as on all others. */
  portrait: placeSchema.nullable(),
});

/** What is made of marked photos. */
export const markedSchema = z.strictObject({
  format: z.enum(['same', 'jpeg', 'png', 'webp', 'tiff']),
  /** Of JPEG and WebP. */
  quality: wholeWithin(QUALITY),
  /** Made smaller before it is marked; never larger. */
  resize: z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('own') }),
    z.strictObject({ kind: z.literal('long'), px: wholeWithin(LONG_SIDE_PX) }),
    z.strictObject({ kind: z.literal('megapixels'), megapixels: within(MEGAPIXELS) }),
  ]),
  /** Where it was taken. */
  location: z.enum(['kept', 'dropped']),
  /** Written into the file; empty: as the photo has it. */
  author: z.string().max(200),
  copyright: z.string().max(200),
  fileName: z.string().min(1).max(LONGEST_FILE_NAME),
});

/** Puts a watermark on photos, as a routine does it. */
export const markWishSchema = markedSchema.extend({ watermark: watermarkSchema });

export type FontSource = z.infer<typeof fontSchema>;
export type TextPart = z.infer<typeof textPartSchema>;
export type CutoutPart = z.infer<typeof cutoutPartSchema>;
export type Part = z.infer<typeof partSchema>;
export type Group = z.infer<typeof groupSchema>;
export type MarkLook = z.infer<typeof lookSchema>;
export type MarkPlace = z.infer<typeof placeSchema>;
export type Watermark = z.infer<typeof watermarkSchema>;
export type Marked = z.infer<typeof markedSchema>;
export type MarkWish = z.infer<typeof markWishSchema>;

export const AS_BROUGHT: Marked = {
  format: 'same',
  quality: 92,
  resize: { kind: 'own' },
  location: 'kept',
  author: '',
  copyright: '',
  fileName: '{piece}-marked',
};

/** A photo's size as it is seen. */
export interface PhotoSize {
  readonly width: number;
  readonly height: number;
}
