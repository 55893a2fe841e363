import { rgbOfHex } from '../../color/hex';
import type { Steps } from '../../numeric/steps';
import { createRaster, type Raster } from '../../raster/raster';
import { resizeSteps } from '../../raster/resize';
import { bleedColor } from './bleed';
import { layOut, type Layout, type LayoutFacts } from './layout';
import type { Output, Target } from './output-settings';

/** What is written into a file: its pixels, and their resolution. */
export interface ShapedOutput {
  readonly raster: Raster;
  readonly layout: Layout;
}

/** What a file of an icon is laid out as: squares with the piece in their middle. */
function squareOf(sidePx: number): Target {
  return { kind: 'canvas', widthPx: sidePx, heightPx: sidePx, anchor: 'center' };
}

/** What files of an output are laid out as: one, or one for each side of an icon. */
export function targetsOf(output: Output): readonly Target[] {
  return output.format === 'ico' ? output.sidesPx.map(squareOf) : [output.size.to];
}

/**
 * Makes the pixels of a file from a cutout that is ready (its hidden color removed): trimmed, resized, with padding, for one of
 * its targets. The cutout itself is given back where nothing of that is asked for.
 */
export function* shapeSteps(
  cutout: Raster,
  output: Output,
  target: Target,
  facts: Pick<LayoutFacts, 'content' | 'dpi'>,
): Steps<ShapedOutput> {
  const { width, height } = cutout;
  const layout = layOut(output.size, target, { width, height, ...facts });
  const { from, at } = layout;
  const isWhole = from.width === width && from.height === height;
  if (isWhole && layout.width === width && layout.height === height && at.width === width)
    return { raster: cutout, layout };
  const { kernel, light } = output.size;
  const resized = yield* resizeSteps(cutout, from, at.width, at.height, kernel, light);
  if (layout.width === at.width && layout.height === at.height) return { raster: resized, layout };
  const raster = createRaster(layout.width, layout.height);
  for (let y = 0; y < at.height; y++) {
    const row = resized.data.subarray(y * at.width * 4, (y + 1) * at.width * 4);
    raster.data.set(row, ((at.y + y) * layout.width + at.x) * 4);
  }
  return { raster, layout };
}

/** The size of the file that an output becomes; of an icon that of its largest square. Throws as `layOut`. */
export function outputSize(
  output: Output,
  facts: LayoutFacts,
): { readonly width: number; readonly height: number } {
  const layouts = targetsOf(output).map((target) => layOut(output.size, target, facts));
  return layouts.reduce((most, one) => (one.width > most.width ? one : most));
}

/** The same with color bled outward, as a copy. */
export function bled(raster: Raster): Raster {
  const copy = createRaster(raster.width, raster.height, new Uint8Array(raster.data));
  bleedColor(copy);
  return copy;
}

/** A raster laid on one color, mixed in encoded values as viewers do: opaque. */
export function flattened(raster: Raster, backing: string): Raster {
  const out = createRaster(raster.width, raster.height);
  const { red, green, blue } = rgbOfHex(backing);
  const below = [red, green, blue];
  const { data } = raster;
  for (let p = 0; p < data.length; p += 4) {
    const alpha = data[p + 3]!;
    for (let c = 0; c < 3; c++)
      out.data[p + c] = Math.round((data[p + c]! * alpha + below[c]! * (255 - alpha)) / 255);
    out.data[p + 3] = 255;
  }
  return out;
}

/** A raster whose pixels are there or not: from `threshold` on opaque, mixed with the matte color by their alpha; black below. */
export function thresholded(raster: Raster, threshold: number, matte: string): Raster {
  const out = flattened(raster, matte);
  const { data } = raster;
  for (let p = 0; p < data.length; p += 4) if (data[p + 3]! < threshold) out.data.fill(0, p, p + 4);
  return out;
}
