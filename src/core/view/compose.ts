import type { Raster, Rect } from '../raster/raster';
import { CHECKER } from './backing';

/**
 * Where the sheet lies on the screen: original pixel (x, y) is at screen pixel
 * `(x * scale + left, y * scale + top)`. Screen pixels are those of the device.
 */
export interface View {
  readonly scale: number;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** The two colors behind a cutout (`0xrrggbb`, equal for a plain backing) and the color around the sheet. */
export interface Ground {
  readonly light: number;
  readonly dark: number;
  readonly around: number;
  /** Side of a checkerboard cell in screen pixels. */
  readonly cellPx: number;
  /** A picture instead of the two colors: it covers the sheet, lies on it, and is opaque where it is shown. */
  readonly picture?: Raster;
}

/** A picture or a part of one: pixel (0, 0) of `raster` is pixel (`x`, `y`) of the whole at `reduction` halvings. */
export interface Layer {
  readonly raster: Raster;
  readonly x: number;
  readonly y: number;
  readonly reduction: number;
  /** Size of the original. */
  readonly wholeWidth: number;
  readonly wholeHeight: number;
}

/** A checkerboard's cell on a screen with `density` device pixels per CSS pixel. */
export function cellOf(density: number): number {
  return Math.max(1, Math.round(CHECKER.cellPx * density));
}

/** The part of the original, in pixels at `reduction` halvings, that a view shows; one pixel wider on each side. */
export function visiblePart(view: View, reduction: number): Rect {
  const size = view.scale * 2 ** reduction;
  const x = Math.floor(-view.left / size) - 1;
  const y = Math.floor(-view.top / size) - 1;
  return {
    x,
    y,
    width: Math.ceil((view.width - view.left) / size) + 1 - x,
    height: Math.ceil((view.height - view.top) / size) + 1 - y,
  };
}

/**
 * Paints a layer over a ground into opaque screen pixels (RGBA bytes, `view.width` x `view.height`). At or above
 * 1:1 every original pixel is a plain square; below, pixels are interpolated linearly, weighted by alpha. Composited
 * in encoded sRGB, as other software lays a PNG file on a page, so the screen shows at 1:1 what a file holds. Of the screen
 * only `part` is painted, where there is one.
 */
export function composeInto(
  layer: Layer,
  view: View,
  ground: Ground,
  out: Uint8ClampedArray,
  part: Rect = { x: 0, y: 0, width: view.width, height: view.height },
): void {
  const size = view.scale * 2 ** layer.reduction;
  const smooth = size < 1 || (layer.reduction > 0 && size !== 1);
  const columns = columnsOf(layer, view, size, smooth);
  const groundOf = groundRows(layer, view, ground);
  for (let row = part.y; row < part.y + part.height; row++) {
    const y = (row + 0.5 - view.top) / size;
    const insideRows = y >= 0 && row + 0.5 - view.top < layer.wholeHeight * view.scale;
    if (!insideRows) fillAround(out, row, view.width, part, ground.around);
    else if (smooth)
      smoothRow(layer, columns, y - 0.5 - layer.y, row, view, part, ground, groundOf(row), out);
    else plainRow(layer, columns, Math.floor(y) - layer.y, row, view, part, ground, groundOf(row), out);
  }
}

/** For each screen column: the layer column it shows, and the share of the next one; -1 outside of the picture. */
interface Columns {
  readonly index: Int32Array;
  readonly share: Float32Array;
}

function columnsOf(layer: Layer, view: View, size: number, smooth: boolean): Columns {
  const index = new Int32Array(view.width).fill(-1);
  const share = new Float32Array(view.width);
  const right = layer.wholeWidth * view.scale;
  const last = layer.raster.width - 1;
  for (let column = 0; column < view.width; column++) {
    const onSheet = column + 0.5 - view.left;
    if (onSheet < 0 || onSheet >= right) continue;
    const x = onSheet / size - layer.x - (smooth ? 0.5 : 0);
    const whole = Math.min(last, Math.max(0, Math.floor(x)));
    index[column] = whole;
    share[column] = whole === last ? 0 : Math.min(1, Math.max(0, x - whole));
  }
  return { index, share };
}

function plainRow(
  layer: Layer,
  columns: Columns,
  y: number,
  row: number,
  view: View,
  part: Rect,
  ground: Ground,
  behind: Uint32Array,
  out: Uint8ClampedArray,
): void {
  const { data, width, height } = layer.raster;
  const line = Math.min(height - 1, Math.max(0, y)) * width;
  const end = part.x + part.width;
  for (let column = part.x, q = (row * view.width + part.x) * 4; column < end; column++, q += 4) {
    const x = columns.index[column]!;
    if (x < 0) {
      put(out, q, ground.around);
      continue;
    }
    const p = (line + x) * 4;
    const alpha = data[p + 3]!;
    const rest = 255 - alpha;
    const under = behind[column]!;
    out[q] = (data[p]! * alpha + (under >> 16) * rest) / 255;
    out[q + 1] = (data[p + 1]! * alpha + ((under >> 8) & 255) * rest) / 255;
    out[q + 2] = (data[p + 2]! * alpha + (under & 255) * rest) / 255;
    out[q + 3] = 255;
  }
}

function smoothRow(
  layer: Layer,
  columns: Columns,
  y: number,
  row: number,
  view: View,
  part: Rect,
  ground: Ground,
  behind: Uint32Array,
  out: Uint8ClampedArray,
): void {
  const { data, width, height } = layer.raster;
  const upper = Math.min(height - 1, Math.max(0, Math.floor(y)));
  const lower = Math.min(height - 1, upper + 1);
  const down = Math.min(1, Math.max(0, y - upper));
  const step = width > 1 ? 4 : 0;
  const end = part.x + part.width;
  for (let column = part.x, q = (row * view.width + part.x) * 4; column < end; column++, q += 4) {
    const x = columns.index[column]!;
    if (x < 0) {
      put(out, q, ground.around);
      continue;
    }
    const across = columns.share[column]!;
    const p0 = (upper * width + x) * 4;
    const p2 = (lower * width + x) * 4;
    const p1 = across > 0 ? p0 + step : p0;
    const p3 = across > 0 ? p2 + step : p2;
    const opaque = data[p0 + 3]! & data[p1 + 3]! & data[p2 + 3]! & data[p3 + 3]!;
    if (opaque === 255) {
      for (let c = 0; c < 3; c++) {
        const above = data[p0 + c]! + (data[p1 + c]! - data[p0 + c]!) * across;
        const below = data[p2 + c]! + (data[p3 + c]! - data[p2 + c]!) * across;
        out[q + c] = above + (below - above) * down;
      }
      out[q + 3] = 255;
      continue;
    }
    if ((data[p0 + 3]! | data[p1 + 3]! | data[p2 + 3]! | data[p3 + 3]!) === 0) {
      put(out, q, behind[column]!);
      continue;
    }
    const w0 = (1 - across) * (1 - down) * data[p0 + 3]!;
    const w1 = across * (1 - down) * data[p1 + 3]!;
    const w2 = (1 - across) * down * data[p2 + 3]!;
    const w3 = across * down * data[p3 + 3]!;
    const rest = 255 - (w0 + w1 + w2 + w3);
    const under = rest <= 0 ? 0 : behind[column]!;
    out[q] = (data[p0]! * w0 + data[p1]! * w1 + data[p2]! * w2 + data[p3]! * w3 + (under >> 16) * rest) / 255;
    out[q + 1] =
      (data[p0 + 1]! * w0 +
        data[p1 + 1]! * w1 +
        data[p2 + 1]! * w2 +
        data[p3 + 1]! * w3 +
        ((under >> 8) & 255) * rest) /
      255;
    out[q + 2] =
      (data[p0 + 2]! * w0 +
        data[p1 + 2]! * w1 +
        data[p2 + 2]! * w2 +
        data[p3 + 2]! * w3 +
        (under & 255) * rest) /
      255;
    out[q + 3] = 255;
  }
}

/** Gives what lies behind each column of a row, `0xrrggbb`. Rows are asked for from the top; each is overwritten by the next. */
function groundRows(layer: Layer, view: View, ground: Ground): (row: number) => Uint32Array {
  const { picture, cellPx, light, dark } = ground;
  if (picture) {
    const line = new Uint32Array(view.width);
    return (row) => pictureRow(picture, layer, view, row, line);
  }
  const rows = [0, 1].map((odd) =>
    Uint32Array.from({ length: view.width }, (_, column) =>
      (((column / cellPx) | 0) + odd) & 1 ? dark : light,
    ),
  );
  return (row) => rows[((row / cellPx) | 0) & 1]!;
}

/** A row of a picture that covers the sheet, as much of it as fits the sheet's shape, from its middle. */
function pictureRow(
  { width, height, data }: Raster,
  { wholeWidth, wholeHeight }: Layer,
  view: View,
  row: number,
  line: Uint32Array,
): Uint32Array {
  const times = Math.min(width / wholeWidth, height / wholeHeight);
  const step = times / view.scale;
  const startX = (width - wholeWidth * times) / 2 + (0.5 - view.left) * step;
  const y = Math.floor((height - wholeHeight * times) / 2 + (row + 0.5 - view.top) * step);
  const start = Math.min(height - 1, Math.max(0, y)) * width;
  for (let column = 0; column < line.length; column++) {
    const x = Math.min(width - 1, Math.max(0, Math.floor(startX + column * step)));
    const p = (start + x) * 4;
    line[column] = (data[p]! << 16) | (data[p + 1]! << 8) | data[p + 2]!;
  }
  return line;
}

function fillAround(out: Uint8ClampedArray, row: number, width: number, part: Rect, color: number): void {
  for (let q = (row * width + part.x) * 4, end = q + part.width * 4; q < end; q += 4) put(out, q, color);
}

function put(out: Uint8ClampedArray, q: number, color: number): void {
  out[q] = color >> 16;
  out[q + 1] = (color >> 8) & 255;
  out[q + 2] = color & 255;
  out[q + 3] = 255;
}
