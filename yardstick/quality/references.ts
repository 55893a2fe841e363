import { lumaOf } from '../../src/core/color/luma';
import { labOf } from '../../src/core/color/oklab';
import { nearestPixel } from '../../src/core/numeric/distance-transform';
import { runToEnd } from '../../src/core/numeric/steps';
import { createRaster, type Raster } from '../../src/core/raster/raster';
import { distanceLevels } from '../../src/core/stages/clear/distance';
import { reachMapSteps } from '../../src/core/stages/clear/reach-map';
import { sampleAreas, sampleColor } from '../../src/core/stages/clear/sample-color';

/** What others get: the best a hard flood can do, the same with a soft edge, and un-mixing that knows the truth. */
export interface References {
  readonly hard: Raster;
  readonly soft: Raster;
  readonly ceiling: Raster;
}

export function referencesFor(picture: Raster, truth: Raster): References {
  const hard = bestFlood(picture, truth);
  return { hard, soft: softened(hard), ceiling: trueTrimap(picture, truth) };
}

/** A threshold flood from every true background pixel, so pockets included, at the tolerance with the least error. */
function bestFlood(picture: Raster, truth: Raster): Raster {
  const { width, height } = picture;
  const area = sampleAreas({ x: 3, y: 3, to: null, areaPx: 5 }, picture);
  const { red, green, blue } = sampleColor(picture, area);
  const lab = labOf(red, green, blue);
  const seeds = [...Array(width * height).keys()]
    .filter((i) => truth.data[i * 4 + 3] === 0)
    .map((i) => ({ x: i % width, y: Math.floor(i / width), width: 1, height: 1 }));
  const measure = (from: number, to: number, mark: number, out: Uint16Array) =>
    distanceLevels(picture, lab, from * width, to * width, mark, out);
  const { levels } = runToEnd(reachMapSteps(picture, measure, seeds, 'joined'));
  let best = 0;
  let least = Infinity;
  for (let level = 0; level <= 1600; level += 10) {
    let error = 0;
    for (let i = 0; i < levels.length; i++) {
      const alpha = levels[i]! <= level ? 0 : 1;
      error += (alpha - truth.data[i * 4 + 3]! / 255) ** 2;
    }
    if (error < least) {
      least = error;
      best = level;
    }
  }
  const out = createRaster(width, height, picture.data.slice());
  for (let i = 0; i < levels.length; i++) out.data[i * 4 + 3] = levels[i]! <= best ? 0 : 255;
  return out;
}

/** Alpha through a 1-2-1 filter in both directions. */
function softened(hard: Raster): Raster {
  const { width, height, data } = hard;
  const out = createRaster(width, height, data.slice());
  const at = (x: number, y: number) =>
    data[(Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))) * 4 + 3]!;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) sum += at(x + dx, y + dy) * (2 - Math.abs(dx)) * (2 - Math.abs(dy));
      out.data[(y * width + x) * 4 + 3] = Math.round(sum / 16);
    }
  }
  return out;
}

/** Un-mixing with the true trimap: certain pixels from the truth, B and F the nearest certain pixels of the picture. */
function trueTrimap(picture: Raster, truth: Raster): Raster {
  const { width, height, data } = picture;
  const trimap = Uint8Array.from({ length: width * height }, (_, i) => {
    const alpha = truth.data[i * 4 + 3]!;
    return alpha === 0 ? 0 : alpha === 255 ? 2 : 1;
  });
  const toB = nearestPixel({ data: trimap, width, height }, 0);
  const toF = nearestPixel({ data: trimap, width, height }, 2);
  const out = createRaster(width, height, data.slice());
  for (let i = 0; i < trimap.length; i++) {
    if (trimap[i] !== 1) {
      out.data[i * 4 + 3] = trimap[i] === 0 ? 0 : 255;
      continue;
    }
    const b = toB[i]! * 4;
    const f = toF[i]! < 0 ? i * 4 : toF[i]! * 4;
    let dot = 0;
    let span = 0;
    for (let c = 0; c < 3; c++) {
      const way = data[f + c]! - data[b + c]!;
      dot += (data[i * 4 + c]! - data[b + c]!) * way;
      span += way * way;
    }
    const alpha = span > 0 ? Math.min(1, Math.max(0, dot / span)) : 1;
    out.data[i * 4 + 3] = Math.round(alpha * 255);
    for (let c = 0; c < 3; c++) out.data[i * 4 + c] = data[f + c]!;
  }
  return out;
}

/** The best a ramp in luminance can do: black and white point with the least error against the truth; colors as they are. */
export function bestRamp(picture: Raster, truth: Raster): Raster {
  const sums = new Float64Array(256 * 3);
  for (let p = 0; p < truth.data.length; p += 4) {
    const luma = Math.round(lumaOf(picture.data[p]!, picture.data[p + 1]!, picture.data[p + 2]!));
    const alpha = truth.data[p + 3]! / 255;
    sums[luma * 3]! += 1;
    sums[luma * 3 + 1]! += alpha;
    sums[luma * 3 + 2]! += alpha * alpha;
  }
  let best = { black: 0, white: 255, error: Infinity };
  for (let black = 0; black < 255; black++) {
    for (let white = black + 1; white <= 256; white++) {
      let error = 0;
      for (let luma = 0; luma < 256; luma++) {
        const a = Math.min(1, Math.max(0, (white - luma) / (white - black)));
        error += a * a * sums[luma * 3]! - 2 * a * sums[luma * 3 + 1]! + sums[luma * 3 + 2]!;
      }
      if (error < best.error) best = { black, white, error };
    }
  }
  const out = createRaster(picture.width, picture.height, picture.data.slice());
  for (let p = 0; p < out.data.length; p += 4) {
    const luma = Math.round(lumaOf(picture.data[p]!, picture.data[p + 1]!, picture.data[p + 2]!));
    const a = Math.min(1, Math.max(0, (best.white - luma) / (best.white - best.black)));
    out.data[p + 3] = Math.round(a * 255);
  }
  return out;
}
