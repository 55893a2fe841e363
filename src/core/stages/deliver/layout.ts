import { badArgument } from '../../errors';
import type { Rect } from '../../raster/raster';
import type { Anchor, Output, Padding, Target } from './output-settings';

/** How what is delivered lies in its file. All sizes are pixels. */
export interface Layout {
  /** What of the cutout is taken. */
  readonly from: Rect;
  /** How large that becomes, and where it lies. */
  readonly at: Rect;
  /** The size of the file's picture. */
  readonly width: number;
  readonly height: number;
  /** Pixels of the file per pixel of the cutout; above 1 it is enlarged. */
  readonly scale: number;
  /** Pixels per inch that are written into the file; null for none. */
  readonly dpi: number | null;
}

export interface LayoutFacts {
  /** The cutout's size. */
  readonly width: number;
  readonly height: number;
  /** What of it is not transparent; null where nothing is. */
  readonly content: Rect | null;
  /** Its resolution where it is not resized; null where none is known. */
  readonly dpi: number | null;
}

/** What files are made of at most, as what comes in. */
const MOST_PIXELS = 100_000_000;

/** Millimeters of padding are taken at this resolution where the picture has none. */
const PADDING_DPI = 300;

const MM_PER_INCH = 25.4;

/** Lays a cutout out for a file. Throws `bad-argument` where padding leaves no room, or the file would be too large. */
export function layOut(
  size: Pick<Output['size'], 'trim' | 'padding'>,
  to: Target,
  facts: LayoutFacts,
): Layout {
  const from = (size.trim && facts.content) || { x: 0, y: 0, width: facts.width, height: facts.height };
  const dpi = to.kind === 'print' ? to.dpi : to.kind === 'own' ? facts.dpi : null;
  const unit = unitOf(size.padding, dpi ?? facts.dpi ?? PADDING_DPI);
  const scale = scaleOf(from, to, size.padding, unit);
  // Room that is told in percent of the longer side grows with the picture, or is that of the canvas.
  const longer =
    to.kind === 'canvas' ? Math.max(to.widthPx, to.heightPx) : Math.max(from.width, from.height) * scale;
  const room = (side: number) => Math.round(size.padding.unit === '%' ? (side / 100) * longer : side * unit);
  const [top, right, bottom, left] = [
    room(size.padding.top),
    room(size.padding.right),
    room(size.padding.bottom),
    room(size.padding.left),
  ];
  const fixedWidth = widthOf(to);
  const fixedHeight = heightOf(to);
  const across = to.kind === 'canvas' ? null : fixedWidth;
  const down = to.kind === 'canvas' ? null : fixedHeight;
  const width = across !== null ? across - left - right : Math.round(from.width * scale);
  const height = down !== null ? down - top - bottom : Math.round(from.height * scale);
  const placed = { width: Math.max(1, width), height: Math.max(1, height) };
  const whole =
    to.kind === 'canvas'
      ? { width: to.widthPx, height: to.heightPx }
      : { width: placed.width + left + right, height: placed.height + top + bottom };
  if (whole.width * whole.height > MOST_PIXELS)
    throw badArgument('size', 'at most 100 megapixels', `${whole.width} x ${whole.height} px`);
  const free = {
    x: whole.width - left - right - placed.width,
    y: whole.height - top - bottom - placed.height,
  };
  const { x, y } = to.kind === 'canvas' ? anchored(to.anchor, free) : { x: 0, y: 0 };
  return { from, at: { x: left + x, y: top + y, ...placed }, ...whole, scale, dpi };
}

/** Pixels per unit of padding; of no use for percent. */
function unitOf({ unit }: Padding, dpi: number): number {
  return unit === 'mm' ? dpi / MM_PER_INCH : 1;
}

function scaleOf(from: Rect, to: Target, padding: Padding, unit: number): number {
  if (to.kind === 'own') return 1;
  if (to.kind === 'scale') return to.factor;
  const across = padding.left + padding.right;
  const down = padding.top + padding.bottom;
  const inPercent = padding.unit === '%';
  if (to.kind === 'canvas') {
    const longer = Math.max(to.widthPx, to.heightPx);
    const [x, y] = inPercent
      ? [(across / 100) * longer, (down / 100) * longer]
      : [across * unit, down * unit];
    return positive(Math.min((to.widthPx - x) / from.width, (to.heightPx - y) / from.height), padding);
  }
  const [whole, own, sides] =
    to.kind === 'height' ? [to.px, from.height, down] : [widthOf(to)!, from.width, across];
  // Percent are of the longer side of what is scaled, so that they are scaled with it.
  return inPercent
    ? positive(whole / (own + (sides / 100) * Math.max(from.width, from.height)), padding)
    : positive((whole - sides * unit) / own, padding);
}

function positive(scale: number, padding: Padding): number {
  if (scale > 0) return scale;
  const { top, right, bottom, left, unit } = padding;
  throw badArgument('padding', 'room for the picture', `${top}, ${right}, ${bottom}, ${left} ${unit}`);
}

function widthOf(to: Target): number | null {
  if (to.kind === 'width') return to.px;
  return to.kind === 'print' ? Math.max(1, Math.round((to.widthMm * to.dpi) / MM_PER_INCH)) : null;
}

function heightOf(to: Target): number | null {
  return to.kind === 'height' ? to.px : null;
}

function anchored(anchor: Anchor, free: { readonly x: number; readonly y: number }) {
  const [vertical, horizontal] = anchor === 'center' ? ['', ''] : [anchor, anchor];
  const x = horizontal.endsWith('left') ? 0 : horizontal.endsWith('right') ? free.x : Math.floor(free.x / 2);
  const y = vertical.startsWith('top') ? 0 : vertical.startsWith('bottom') ? free.y : Math.floor(free.y / 2);
  return { x, y };
}
