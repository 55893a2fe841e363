import { assertRaster, createRaster, type Raster } from '../raster/raster';
import { resizeSteps } from '../raster/resize';
import type { Steps } from '../numeric/steps';
import { wholeOf } from '../raster/raster';
import { cornersOf, turnOf, type PlacedBox } from './place';

/** A cutout as it is laid on a ground: sRGB, straight alpha. */
export interface Layer {
  readonly cutout: Raster;
  /** In pixels of the ground. */
  readonly box: PlacedBox;
  readonly angleDeg: number;
  /** 1 to 100. */
  readonly opacity: number;
  readonly blend: 'normal' | 'multiply';
}

/** A cutout drawn at its place: its pixels, and where its upper left one lies on the ground. */
export interface Drawn {
  readonly raster: Raster;
  readonly left: number;
  readonly top: number;
}

/** Samples across and down a pixel of the ground. */
const SAMPLES = 2;

/** Rows between two pauses. */
const ROWS_A_STEP = 64;

/**
 * Draws a cutout at its size and angle, at parts of pixels where its box says so. A smaller picture is made of all that it
 * covers (box), a larger one goes smoothly between pixels (bilinear); colors are weighed by alpha in encoded values, as PDF
 * viewers and browsers do.
 */
export function* drawnSteps(
  { cutout, box, angleDeg }: Layer,
  clip: { readonly width: number; readonly height: number },
): Steps<Drawn> {
  assertRaster(cutout);
  const corners = cornersOf(box, angleDeg);
  const left = Math.max(0, Math.floor(Math.min(...corners.map(({ x }) => x))));
  const top = Math.max(0, Math.floor(Math.min(...corners.map(({ y }) => y))));
  const right = Math.min(clip.width, Math.ceil(Math.max(...corners.map(({ x }) => x))));
  const bottom = Math.min(clip.height, Math.ceil(Math.max(...corners.map(({ y }) => y))));
  if (right <= left || bottom <= top) return { raster: createRaster(1, 1), left: 0, top: 0 };
  const isNear = box.width <= 2 * clip.width && box.height <= 2 * clip.height;
  if (angleDeg === 0 && isNear && isWhole(box)) {
    const { width, height } = box;
    const raster = yield* resizeSteps(
      cutout,
      wholeOf(cutout),
      Math.round(width),
      Math.round(height),
      'box',
      'encoded',
    );
    return { raster, left: Math.round(box.x), top: Math.round(box.y) };
  }
  // About as many pixels as there are samples: none is left out, and none is taken twice.
  const width = Math.min(cutout.width, Math.max(1, Math.ceil(box.width * SAMPLES)));
  const height = Math.min(cutout.height, Math.max(1, Math.ceil(box.height * SAMPLES)));
  const source = yield* resizeSteps(cutout, wholeOf(cutout), width, height, 'box', 'encoded');
  const out = createRaster(right - left, bottom - top);
  const { sine, cosine } = turnOf(angleDeg);
  const middleX = box.x + box.width / 2;
  const middleY = box.y + box.height / 2;
  const perX = width / box.width;
  const perY = height / box.height;
  const sums = new Float64Array(4);
  for (let y = 0; y < out.height; y++) {
    if (y % ROWS_A_STEP === 0) yield { doing: 'placing', done: y, total: out.height };
    for (let x = 0; x < out.width; x++) {
      sums.fill(0);
      for (let k = 0; k < SAMPLES * SAMPLES; k++) {
        const u = left + x + ((k % SAMPLES) + 0.5) / SAMPLES - middleX;
        const v = top + y + (Math.floor(k / SAMPLES) + 0.5) / SAMPLES - middleY;
        const across = (u * cosine + v * sine + box.width / 2) * perX;
        const down = (v * cosine - u * sine + box.height / 2) * perY;
        addSample(source, across, down, sums);
      }
      writeMean(sums, out, (y * out.width + x) * 4);
    }
  }
  return { raster: out, left, top };
}

/** Whether a box covers whole pixels. */
function isWhole({ x, y, width, height }: PlacedBox): boolean {
  return (
    [x, y, width, height].every((value) => Math.abs(value - Math.round(value)) < 1e-6) && x >= 0 && y >= 0
  );
}

/** Adds what a raster shows at a place, between its pixels, premultiplied; nothing beyond its border. */
function addSample({ data, width, height }: Raster, across: number, down: number, sums: Float64Array): void {
  const x = across - 0.5;
  const y = down - 0.5;
  const left = Math.floor(x);
  const top = Math.floor(y);
  if (left < -1 || top < -1 || left >= width || top >= height) return;
  for (let k = 0; k < 4; k++) {
    const u = left + (k & 1);
    const v = top + (k >> 1);
    if (u < 0 || v < 0 || u >= width || v >= height) continue;
    const share = (k & 1 ? x - left : 1 - x + left) * (k >> 1 ? y - top : 1 - y + top);
    const p = (v * width + u) * 4;
    const alpha = share * data[p + 3]!;
    sums[0]! += alpha * data[p]!;
    sums[1]! += alpha * data[p + 1]!;
    sums[2]! += alpha * data[p + 2]!;
    sums[3]! += alpha;
  }
}

function writeMean(sums: Float64Array, { data }: Raster, p: number): void {
  const alpha = sums[3]!;
  const byte = Math.round(alpha / (SAMPLES * SAMPLES));
  if (byte === 0) return;
  data[p] = Math.round(sums[0]! / alpha);
  data[p + 1] = Math.round(sums[1]! / alpha);
  data[p + 2] = Math.round(sums[2]! / alpha);
  data[p + 3] = byte;
}

/**
 * Lays drawn pixels on an opaque ground, which is changed: over it, or multiplied with it (ISO 32000-2, 11.3.5), in encoded
 * values. `opacity` is 1 to 100.
 */
export function layOn(
  ground: Raster,
  { raster, left, top }: Drawn,
  { opacity, blend }: Pick<Layer, 'opacity' | 'blend'>,
): void {
  const { data } = ground;
  const own = raster.data;
  for (let y = 0; y < raster.height; y++) {
    const row = top + y;
    if (row < 0 || row >= ground.height) continue;
    for (let x = 0, p = y * raster.width * 4; x < raster.width; x++, p += 4) {
      const column = left + x;
      if (own[p + 3] === 0 || column < 0 || column >= ground.width) continue;
      const share = (own[p + 3]! * opacity) / 25_500;
      const q = (row * ground.width + column) * 4;
      for (let c = 0; c < 3; c++) {
        const below = data[q + c]!;
        const color = blend === 'multiply' ? (own[p + c]! * below) / 255 : own[p + c]!;
        data[q + c] = Math.round(color * share + below * (1 - share));
      }
    }
  }
}

/** Lays cutouts on an opaque ground, from the lowest to the uppermost; the ground is changed. */
export function* layAllSteps(ground: Raster, layers: readonly Layer[]): Steps<void> {
  for (const layer of layers) layOn(ground, yield* drawnSteps(layer, ground), layer);
}

/** An even color, or one that goes over into another along a direction: 0 degrees to the right, 90 downward. Opaque. */
export function colorGround(
  source: { readonly from: Rgb; readonly to: Rgb | null; readonly angleDeg: number },
  width: number,
  height: number,
): Raster {
  const { from, to } = source;
  const out = createRaster(width, height);
  const { sine, cosine } = turnOf(source.angleDeg);
  // From corner to corner in that direction.
  const long = Math.abs(cosine) * width + Math.abs(sine) * height;
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      const along = ((x + 0.5 - width / 2) * cosine + (y + 0.5 - height / 2) * sine) / long + 0.5;
      const share = to ? Math.min(1, Math.max(0, along)) : 0;
      const mix = (one: number, other: number) => Math.round(one + share * (other - one));
      const end = to ?? from;
      out.data[p] = mix(from.red, end.red);
      out.data[p + 1] = mix(from.green, end.green);
      out.data[p + 2] = mix(from.blue, end.blue);
      out.data[p + 3] = 255;
    }
  return out;
}

interface Rgb {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
}
