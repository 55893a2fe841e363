import { z } from 'zod';
import { colorSchema, wholeWithin, within } from '../shapes';

export const SIZE_PX = { min: 1, max: 20_000 } as const;
export const SCALE = { min: 0.01, max: 16 } as const;
export const OUTPUT_MM = { min: 1, max: 10_000 } as const;
export const OUTPUT_DPI = { min: 36, max: 2400 } as const;
export const PADDING = { min: 0, max: 10_000 } as const;
export const QUALITY = { min: 1, max: 100 } as const;
export const THRESHOLD = { min: 1, max: 255 } as const;
export const TRACE_ERROR_PX = { min: 0.05, max: 5 } as const;

/** Sides of the square pictures that an icon file holds. */
export const ICON_SIDES_PX = [16, 24, 32, 48, 64, 128, 256] as const;

/** Free room around what is delivered: in pixels of the file, in millimeters on paper, or in percent of the longer side. */
export const paddingSchema = z.strictObject({
  top: within(PADDING),
  right: within(PADDING),
  bottom: within(PADDING),
  left: within(PADDING),
  unit: z.enum(['px', 'mm', '%']),
});

export const ANCHORS = [
  'top-left',
  'top',
  'top-right',
  'left',
  'center',
  'right',
  'bottom-left',
  'bottom',
  'bottom-right',
] as const;

/** What a file is made as large as. */
export const targetSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('own') }),
  z.strictObject({ kind: z.literal('scale'), factor: within(SCALE) }),
  z.strictObject({ kind: z.literal('width'), px: wholeWithin(SIZE_PX) }),
  z.strictObject({ kind: z.literal('height'), px: wholeWithin(SIZE_PX) }),
  z.strictObject({
    kind: z.literal('canvas'),
    widthPx: wholeWithin(SIZE_PX),
    heightPx: wholeWithin(SIZE_PX),
    anchor: z.enum(ANCHORS),
  }),
  z.strictObject({ kind: z.literal('print'), widthMm: within(OUTPUT_MM), dpi: wholeWithin(OUTPUT_DPI) }),
]);

export const KERNELS = ['lanczos', 'cubic', 'box', 'nearest'] as const;

/** What resizing weighs pixels by, and whether it does so in light or in encoded values. */
const resizingShape = {
  trim: z.boolean(),
  padding: paddingSchema,
  kernel: z.enum(KERNELS),
  light: z.enum(['linear', 'encoded']),
};

export const sizeSchema = z.strictObject({ ...resizingShape, to: targetSchema });

export const outputSchema = z.discriminatedUnion('format', [
  z.strictObject({ format: z.literal('png'), size: sizeSchema }),
  z.strictObject({
    format: z.literal('webp'),
    quality: wholeWithin(QUALITY).nullable(),
    size: sizeSchema,
  }),
  z.strictObject({
    format: z.literal('avif'),
    quality: wholeWithin(QUALITY).nullable(),
    size: sizeSchema,
  }),
  z.strictObject({
    format: z.literal('tiff'),
    compression: z.enum(['deflate', 'lzw']),
    size: sizeSchema,
  }),
  z.strictObject({
    format: z.literal('gif'),
    threshold: wholeWithin(THRESHOLD),
    matte: colorSchema,
    size: sizeSchema,
  }),
  z.strictObject({
    format: z.literal('jpeg'),
    quality: wholeWithin(QUALITY),
    backing: colorSchema,
    size: sizeSchema,
  }),
  z.strictObject({
    format: z.literal('svg'),
    errorPx: within(TRACE_ERROR_PX),
    size: sizeSchema,
  }),
  z.strictObject({ format: z.literal('pdf'), size: sizeSchema }),
  z.strictObject({
    format: z.literal('ico'),
    sidesPx: z.array(z.union(ICON_SIDES_PX.map((side) => z.literal(side)))).min(1),
    size: z.strictObject(resizingShape),
  }),
]);

export type Padding = z.infer<typeof paddingSchema>;
export type Target = z.infer<typeof targetSchema>;
export type OutputSize = z.infer<typeof sizeSchema>;
export type Kernel = OutputSize['kernel'];
export type Anchor = (typeof ANCHORS)[number];

/** One file of a delivery: its format with what only it can choose, and its size. */
export type Output = z.infer<typeof outputSchema>;

export const NO_PADDING: Padding = { top: 0, right: 0, bottom: 0, left: 0, unit: 'px' };

/** As large as the cutout is. */
export const AS_IT_IS: OutputSize = {
  trim: false,
  padding: NO_PADDING,
  kernel: 'cubic',
  light: 'linear',
  to: { kind: 'own' },
};

export const PNG_AS_IT_IS: Output = { format: 'png', size: AS_IT_IS };
