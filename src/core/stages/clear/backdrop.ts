import { labOf, type Lab } from '../../color/oklab';
import type { Sample } from './settings';
import type { Rect } from '../../raster/raster';
import { findChecker, type Checker } from './checker';
import type { BackdropModel } from './distance';
import { Fact, Remembered } from '../../scene/memo';
import { smallScene, type Scene } from '../../scene/scene';
import type { Rgb } from './sample-color';
import { fitSurface, surfaceColor, type Surface } from './surface';

/** This near to the border of a cell, in pixels, every mixture of the two tones counts as backdrop. */
const BORDER_PX = 1.3;

/** Columns between two places at which a smooth backdrop is computed; what lies between is interpolated. */
const NODE_PX = 8;

/**
 * The backdrop that a sample stands for, row by row, at the scene's size. A smooth backdrop is fitted around the
 * sample, a checkerboard is looked for in the whole picture; where neither is found, the sample's color counts alone.
 */
export function modelOf(scene: Scene, sample: Sample, color: Rgb, areas: readonly Rect[]): BackdropModel {
  const { raster, reduction } = scene;
  if (sample.backdrop === 'smooth') {
    const surface = surfaceAround(scene, areas);
    if (surface) return smoothModel(surface, reduction);
  }
  if (sample.backdrop === 'checkerboard') {
    const checker = checkerOf(scene);
    if (checker) return checkerModel(checker, raster.width, reduction);
  }
  return flatModel(labOf(color.red, color.green, color.blue));
}

/** The smooth surfaces of a picture, and its checkerboard; undefined as long as nobody asked. */
const SURFACES = new Fact(() => new Remembered<Surface | null>(8), 'surfaces');
const CHECKER = new Fact((): { found?: Checker | null } => ({}));

/** The checkerboard of a picture, looked for once. */
export function checkerOf({ original, memo }: Scene): Checker | null {
  const checker = memo.of(CHECKER);
  if (checker.found === undefined) checker.found = findChecker(original);
  return checker.found;
}

/** The smooth surface around the areas that a sample reads, fitted once. */
export function surfaceAround(scene: Scene, areas: readonly Rect[]): Surface | null {
  const places = areas.map(centerOf);
  const key = places.map(({ x, y }) => `${x},${y}`).join(' ');
  return scene.memo.of(SURFACES).at(key, () => fitSurface(scene.original, places, smallScene(scene)));
}

function flatModel(lab: Lab): BackdropModel {
  return {
    bounds: false,
    fill(_y, { lightness, a, b }, _own, from, to) {
      lightness.fill(lab.lightness, from, to);
      a.fill(lab.a, from, to);
      b.fill(lab.b, from, to);
    },
  };
}

function smoothModel(surface: Surface, reduction: number): BackdropModel {
  const scale = 2 ** reduction;
  return {
    bounds: false,
    fill(y, { lightness, a, b }, _own, from, to) {
      const first = from - (from % NODE_PX);
      let left = labAt(surface, first, y, scale);
      for (let x = first; x < to; x += NODE_PX) {
        const right = labAt(surface, x + NODE_PX, y, scale);
        const end = Math.min(to, x + NODE_PX);
        for (let k = Math.max(from, x); k < end; k++) {
          const share = (k - x) / NODE_PX;
          lightness[k] = left.lightness + (right.lightness - left.lightness) * share;
          a[k] = left.a + (right.a - left.a) * share;
          b[k] = left.b + (right.b - left.b) * share;
        }
        left = right;
      }
    },
  };
}

function labAt(surface: Surface, x: number, y: number, scale: number): Lab {
  const { red, green, blue } = surfaceColor(surface, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5);
  return labOfDecimals(red, green, blue);
}

/** Decimals between 8-bit colors, interpolated along the color itself. */
export function labOfDecimals(red: number, green: number, blue: number): Lab {
  const low = labOf(Math.floor(red), Math.floor(green), Math.floor(blue));
  const high = labOf(Math.ceil(red), Math.ceil(green), Math.ceil(blue));
  const share = (red - Math.floor(red) + (green - Math.floor(green)) + (blue - Math.floor(blue))) / 3;
  return {
    lightness: low.lightness + (high.lightness - low.lightness) * share,
    a: low.a + (high.a - low.a) * share,
    b: low.b + (high.b - low.b) * share,
  };
}

/** What a sample's modelled backdrop looks like at a place of the scene's raster; null where its one color counts. */
export function backdropColors(
  scene: Scene,
  sample: Sample,
  areas: readonly Rect[],
): ((x: number, y: number) => Rgb) | null {
  const scale = 2 ** scene.reduction;
  if (sample.backdrop === 'smooth') {
    const surface = surfaceAround(scene, areas);
    return surface && ((x, y) => surfaceColor(surface, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5));
  }
  if (sample.backdrop === 'checkerboard') {
    const checker = checkerOf(scene);
    return checker && ((x, y) => checker.toneAt((x + 0.5) * scale, (y + 0.5) * scale));
  }
  return null;
}

export function checkerModel(checker: Checker, width: number, reduction: number): BackdropModel {
  const scale = 2 ** reduction;
  const even = labOf(checker.even.red, checker.even.green, checker.even.blue);
  const odd = labOf(checker.odd.red, checker.odd.green, checker.odd.blue);
  const dark = Math.min(even.lightness, odd.lightness);
  const light = Math.max(even.lightness, odd.lightness);
  const waves = new Float32Array(width);
  const near = new Uint8Array(width);
  const readColumns = (y: number, from: number, to: number) => {
    for (let x = from; x < to; x++) {
      const { wave, toBorder } = checker.across((x + 0.5) * scale, (y + 0.5) * scale);
      waves[x] = wave;
      near[x] = toBorder < BORDER_PX * scale ? 1 : 0;
    }
  };
  readColumns(0, 0, width);
  return {
    bounds: true,
    fill(y, { lightness, a, b, low, high }, own, from, to) {
      if (checker.tilt !== 0) readColumns(y, from, to);
      let row = checker.down((y + 0.5) * scale, 0);
      for (let x = from; x < to; x++) {
        if (checker.tilt !== 0) row = checker.down((y + 0.5) * scale, (x + 0.5) * scale);
        const mix = 0.5 + 0.5 * waves[x]! * row.wave;
        const certain = odd.lightness + (even.lightness - odd.lightness) * mix;
        // Where two cells meet, compression and resizing leave any mixture of both tones.
        const between = row.toBorder < BORDER_PX * scale || near[x] === 1;
        low[x] = between ? dark : certain;
        high[x] = between ? light : certain;
        lightness[x] = between ? Math.min(light, Math.max(dark, own[x]!)) : certain;
        a[x] = odd.a + (even.a - odd.a) * mix;
        b[x] = odd.b + (even.b - odd.b) * mix;
      }
    },
  };
}

function centerOf({ x, y, width, height }: Rect): { x: number; y: number } {
  return { x: x + (width >> 1), y: y + (height >> 1) };
}
