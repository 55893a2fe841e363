import { Fact, Remembered } from '../../scene/memo';
import { ColorCounts, type ColorCluster } from '../../color/color-counts';
import { jpegLumaOf } from '../../color/luma';
import type { Sample } from '../clear/settings';
import { lengthOf } from '../../numeric/exact';
import type { Raster } from '../../raster/raster';
import { backdropOfSample, colorOfSample } from '../clear/clear';
import type { Rgb } from '../clear/sample-color';
import type { Scene } from '../../scene/scene';
import { halvedChromaOf } from './halved-chroma';
import { apart, sineToWay, wayAround } from './ways';

// What the figures of this file rest on: docs/decisions/010-colors-of-drawings.md

/** Places that are looked at at most; in larger pictures those of some squares of TILE_PX, in a fixed pattern. */
const LOOKED_AT_PIXELS = 500_000;
const TILE_PX = 64;

/** Less than this beside the background, encoded, is not looked at; where chroma has half the resolution, in luma. */
const STANDS_OUT_ENCODED = 40;
const STANDS_OUT_LUMA = 24;

/** A solid place has nine pixels that differ by no more than this in any channel. */
const SOLID_ENCODED = 14;

/** A line passes where color falls to less than half within this, on both sides. */
const LINE_PX = 3;
const LINE_WAYS = [
  [1, 0],
  [0, 1],
  [1, 1],
  [1, -1],
] as const;

/** Chroma at half the resolution runs into its surroundings; within this around a line its sum is whole. */
const CHROMA_PX = 3;

/** A color so far beyond what can be shown, encoded, is none: luma was too near to the background's to scale chroma by. */
const IMPOSSIBLE_ENCODED = 24;

/** A color of solid places has at least so many of them, as a number and as a share. */
const FEWEST_PLACES = 30;
const LEAST_SOLID_SHARE = 0.004;

/** The most colors a drawing has; a photo, whose solid places spread over many, has none. */
const MOST_SOLID_COLORS = 8;
const DRAWN_SHARE = 0.85;

/** Less than this share of a picture's lines is not looked at. */
const LEAST_LINE_SHARE = 0.02;

/** The color of lines holds this share of those that are its mixtures with the background, and those this of all. */
const FULL_SHARE = 0.3;
const FAMILY_SHARE = 0.15;

/** Colors whose ways from the background differ by an angle with a smaller sine than this may be mixtures of one. */
const ONE_WAY_SINE = 0.2;

/** A line that reaches so much of a color's way is not its mixture. */
const AS_FAR_SHARE = 0.85;

/** If this share of all lines has one color, a paler one than a solid color's, then it is their own. */
const OWN_SHARE = 0.6;
const OWN_APART_ENCODED = 40;

/** The few colors of a drawn subject, by what the background is. */
const DRAWN_COLORS = new Fact(() => new Remembered<readonly Float64Array[]>(8), 'drawn colors');

/** A flat background's color counts in steps of this, so that a sample can be moved on it without looking again. */
const FLAT_STEP_ENCODED = 4;

/**
 * The few colors that a drawn subject is made of, three channels each, 0 to 255, encoded sRGB: those of solid places, and
 * those that lines have where they are widest. Empty for photos, and where it cannot be told whether pale lines are thin
 * ones of a stronger color or broad ones of their own. `background` gives the backdrop's color at any place of the picture;
 * where it changes, mixtures are told by the one in the middle.
 *
 * The strongest color of thin lines is seldom seen pure: most of their pixels are mixtures. So colors are counted (peaks of
 * a histogram), and a color that lies between the background and a frequent stronger one is its mixture. Where chroma has
 * half the resolution, a line's color is the sum around it, scaled to the luma of its middle.
 */
export function drawnColors(
  picture: Raster,
  background: (x: number, y: number) => Rgb,
  halvedChroma: boolean,
): Float64Array[] {
  const look = new Look(picture, background, halvedChroma);
  const { solid, lines } = look.found();
  const drawn = solid
    .clusters()
    .filter(({ share, count }) => share >= LEAST_SOLID_SHARE && count >= FEWEST_PLACES)
    .slice(0, MOST_SOLID_COLORS);
  if (solid.count > 0 && drawn.reduce((sum, { share }) => sum + share, 0) < DRAWN_SHARE) return [];
  const { red, green, blue } = background(Math.floor(picture.width / 2), Math.floor(picture.height / 2));
  const colors = drawn.map(({ color }) => color);
  return withLineColors(colors, lines.clusters(), new Ways(Float64Array.of(red, green, blue)));
}

/** The few colors of a drawn subject before the background of the only sample, found once in the original. */
export function drawnColorsOf(scene: Scene, samples: readonly Sample[]): readonly Float64Array[] {
  const [sample] = samples;
  if (!sample || samples.length > 1 || sample.backdrop === 'checkerboard') return [];
  const whole = { ...scene, raster: scene.original, reduction: 0 };
  const model = backdropOfSample(whole, sample);
  const color = roughly(colorOfSample(whole, sample));
  const key = JSON.stringify(model ? [sample.x, sample.y, sample.to, sample.areaPx] : color);
  return scene.memo
    .of(DRAWN_COLORS)
    .at(key, () => drawnColors(scene.original, model ?? (() => color), halvedChromaOf(whole)));
}

function roughly({ red, green, blue }: Rgb): Rgb {
  const step = (value: number) => Math.round(value / FLAT_STEP_ENCODED) * FLAT_STEP_ENCODED;
  return { red: step(red), green: step(green), blue: step(blue) };
}

/** Adds the colors of lines that are mixtures of no color known already. */
function withLineColors(
  solids: readonly Float64Array[],
  lines: readonly ColorCluster[],
  ways: Ways,
): Float64Array[] {
  const colors = [...solids];
  const strongestFirst = lines
    .filter(({ share }) => share >= LEAST_LINE_SHARE)
    .sort((one, other) => ways.length(other.color) - ways.length(one.color));
  for (const { color, share, count } of strongestFirst) {
    const mayBeMixture = (of: Float64Array) => ways.sine(of, color) < ONE_WAY_SINE || ways.isFaded(of, color);
    if (
      share >= OWN_SHARE &&
      colors.every((one) => apart(one, color) > OWN_APART_ENCODED) &&
      colors.some(mayBeMixture)
    )
      return [];
    if (colors.some((one) => ways.isFaded(one, color))) continue;
    const isMixtureOf = (one: Float64Array) =>
      ways.sine(one, color) < ONE_WAY_SINE && ways.length(one) > AS_FAR_SHARE * ways.length(color);
    if (colors.some(isMixtureOf)) continue;
    const family = lines.reduce(
      (sum, other) => sum + (ways.sine(other.color, color) < ONE_WAY_SINE ? other.share : 0),
      0,
    );
    if (share >= FULL_SHARE * family && family >= FAMILY_SHARE && count >= FEWEST_PLACES) colors.push(color);
  }
  return colors;
}

/** Compares colors by their ways from the background. */
class Ways {
  private readonly way = new Float64Array(3);

  constructor(private readonly back: Float64Array) {}

  length(color: Float64Array): number {
    return apart(color, this.back);
  }

  /** Sine of the angle between two ways; 2 where they lead apart. */
  sine(one: Float64Array, other: Float64Array): number {
    for (let c = 0; c < 3; c++) this.way[c] = other[c]! - this.back[c]!;
    return sineToWay(one, this.back, this.way);
  }

  /** Whether the other color is a mixture of the one in luma that lost chroma, as thin lines in compressed pictures do. */
  isFaded(one: Float64Array, other: Float64Array): boolean {
    const from = this.parts(one);
    const to = this.parts(other);
    const share = to.luma / from.luma;
    if (!(share > 0 && share < 1.15)) return false;
    const whole = lengthOf(from.blue, from.red);
    const due = whole * share;
    const along = (to.blue * from.blue + to.red * from.red) / Math.max(1, whole * due);
    const beside = Math.abs(to.blue * from.red - to.red * from.blue) / Math.max(1, whole);
    return along > -0.1 && along < 1.15 && beside < 0.25 * Math.max(due, 20);
  }

  private parts(color: Float64Array) {
    const { back } = this;
    const luma = jpegLumaOf(color[0]! - back[0]!, color[1]! - back[1]!, color[2]! - back[2]!);
    return { luma, blue: color[2]! - back[2]! - luma, red: color[0]! - back[0]! - luma };
  }
}

/** So far around a place it is looked. */
const MARGIN_PX = CHROMA_PX + 1;
const SIDE = TILE_PX + 2 * MARGIN_PX;

/** Looks for solid places and for lines. */
class Look {
  /** How far the pixels of a square and its margin lie from the background. */
  private readonly away = new Float32Array(SIDE * SIDE);

  constructor(
    private readonly picture: Raster,
    private readonly background: (x: number, y: number) => Rgb,
    private readonly halvedChroma: boolean,
  ) {}

  found(): { readonly solid: ColorCounts; readonly lines: ColorCounts } {
    const { width, height } = this.picture;
    const solid = new ColorCounts();
    const lines = new ColorCounts();
    const every = Math.max(1, Math.ceil((width * height) / LOOKED_AT_PIXELS));
    const columns = Math.ceil(width / TILE_PX);
    for (let tile = 0; tile < columns * Math.ceil(height / TILE_PX); tile++) {
      const row = Math.floor(tile / columns);
      // A step that no row of squares repeats.
      if ((tile + row) % every === 0) this.lookAt((tile % columns) * TILE_PX, row * TILE_PX, solid, lines);
    }
    return { solid, lines };
  }

  private lookAt(left: number, top: number, solid: ColorCounts, lines: ColorCounts): void {
    const { width, height, data } = this.picture;
    this.measure(left - MARGIN_PX, top - MARGIN_PX);
    const least = this.halvedChroma ? STANDS_OUT_LUMA : STANDS_OUT_ENCODED;
    const right = Math.min(width - MARGIN_PX, left + TILE_PX);
    const bottom = Math.min(height - MARGIN_PX, top + TILE_PX);
    for (let y = Math.max(MARGIN_PX, top); y < bottom; y++) {
      for (let x = Math.max(MARGIN_PX, left); x < right; x++) {
        const at = (y - top + MARGIN_PX) * SIDE + x - left + MARGIN_PX;
        if (this.away[at]! < least) continue;
        const p = (y * width + x) * 4;
        if (this.isSolid(p)) solid.add(data[p]!, data[p + 1]!, data[p + 2]!);
        else if (this.isLine(at)) {
          const color = this.lineColor(x, y);
          if (color) lines.add(color[0]!, color[1]!, color[2]!);
        }
      }
    }
  }

  /** Fills `away` for a square whose upper left pixel is given; what lies outside of the picture is not looked at. */
  private measure(left: number, top: number): void {
    const { width, height, data } = this.picture;
    const right = Math.min(width, left + SIDE);
    for (let y = Math.max(0, top); y < Math.min(height, top + SIDE); y++) {
      let at = (y - top) * SIDE + Math.max(0, left) - left;
      for (let x = Math.max(0, left), p = (y * width + x) * 4; x < right; x++, at++, p += 4) {
        const { red, green, blue } = this.background(x, y);
        const r = data[p]! - red;
        const g = data[p + 1]! - green;
        const b = data[p + 2]! - blue;
        this.away[at] = this.halvedChroma ? Math.abs(jpegLumaOf(r, g, b)) : lengthOf(r, g, b);
      }
    }
  }

  private isSolid(p: number): boolean {
    const { width, data } = this.picture;
    for (let c = 0; c < 3; c++) {
      let least = 255;
      let most = 0;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const value = data[p + (dy * width + dx) * 4 + c]!;
          if (value < least) least = value;
          if (value > most) most = value;
        }
      }
      if (most - least > SOLID_ENCODED) return false;
    }
    return true;
  }

  private isLine(at: number): boolean {
    const { away } = this;
    const own = away[at]!;
    return LINE_WAYS.some(([dx, dy]) => {
      const step = dy * SIDE + dx;
      return (
        away[at + step]! <= own &&
        away[at - step]! <= own &&
        away[at + LINE_PX * step]! < own / 2 &&
        away[at - LINE_PX * step]! < own / 2
      );
    });
  }

  /** The color of a line at its middle; null where the chroma around it says nothing. */
  private lineColor(x: number, y: number): Float64Array | null {
    const { width, data } = this.picture;
    const p = (y * width + x) * 4;
    const color = Float64Array.of(data[p]!, data[p + 1]!, data[p + 2]!);
    if (!this.halvedChroma) return color;
    const { red, green, blue } = this.background(x, y);
    const back = Float64Array.of(red, green, blue);
    const sum = new Float64Array(3);
    wayAround(this.picture, x, y, CHROMA_PX, back, sum);
    const around = jpegLumaOf(sum[0]!, sum[1]!, sum[2]!);
    const peak = jpegLumaOf(color[0]! - red, color[1]! - green, color[2]! - blue);
    const enough = 2 * (2 * CHROMA_PX + 1) * (2 * CHROMA_PX + 1);
    if (around * peak <= 0 || Math.abs(around) < enough) return null;
    for (let c = 0; c < 3; c++) {
      const value = back[c]! + (sum[c]! * peak) / around;
      if (value < -IMPOSSIBLE_ENCODED || value > 255 + IMPOSSIBLE_ENCODED) return null;
      color[c] = Math.min(255, Math.max(0, value));
    }
    return color;
  }
}
