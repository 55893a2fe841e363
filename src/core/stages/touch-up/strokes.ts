import { rgbOfHex } from '../../color/hex';
import type { Cut } from '../../cut/schema';
import type { Matrix3 } from '../../numeric/matrix3';
import { clipRect, growRect, overlapRect, tilesOf, type Raster, type Rect } from '../../raster/raster';
import { Fact, Remembered } from '../../scene/memo';
import type { Scene } from '../../scene/scene';
import { partOf, type Layer } from '../work';
import { alikeMask, type AlikeMask } from './alike-mask';
import { areaFootprint, brushFootprint, type Footprint } from './footprint';
import { closedLine, ledThrough, pathOf, type Path } from './path';
import { Recent } from './recent';
import { BACKGROUND, grownMask, RimMix, rimMarginAt, rimPxAt, SUBJECT, UNKNOWN } from './rim-mix';
import { looksAround, pathTextOf, type HandStroke } from './settings';

/** A stroke as it lies on a scene. */
export interface Placed {
  readonly stroke: HandStroke;
  /** Equal for strokes that cover the same. */
  readonly key: string;
  readonly line: Path;
  readonly footprint: Footprint;
}

const placedStrokes = new Recent<Placed>();

/** A stroke on a scene of that reduction, `through` which places of the original are led to it. */
export function placed(stroke: HandStroke, through: Matrix3 | undefined, reduction: number): Placed {
  const key = `${reduction}|${through ? through.join() : ''}|${JSON.stringify(stroke)}`;
  return placedStrokes.at(key, () => {
    const unit = 1 / (1 << reduction);
    const line = ledThrough(
      stroke.kind === 'area' ? closedLine(stroke.shape, stroke.corners) : pathOf(pathTextOf(stroke)),
      through,
      reduction,
    );
    return { stroke, key, line, footprint: footprintOf(stroke, line, unit) };
  });
}

function footprintOf(stroke: HandStroke, line: Path, unit: number): Footprint {
  switch (stroke.kind) {
    case 'area':
      return areaFootprint({ line, offset: stroke.offsetPx * unit, softness: stroke.softnessPx * unit });
    case 'gap': {
      const widest = Math.max(stroke.widthPx, stroke.endWidthPx);
      const pressures = Float64Array.of(stroke.widthPx / widest, stroke.endWidthPx / widest);
      return brushFootprint({
        line: { ...line, pressures },
        radius: (widest / 2) * unit,
        softness: 0,
        pressure: 'size',
      });
    }
    case 'island':
      return brushFootprint({ line, radius: 0, softness: 0, pressure: 'none' });
    default:
      return brushFootprint({
        line,
        radius: Math.max(0.5, stroke.radiusPx * unit),
        softness: stroke.softness / 100,
        pressure: stroke.pressure,
      });
  }
}

/** Strokes of a cut that lay or take alpha, in their order, with their places in the list. */
export function layingStrokes(cut: Cut): readonly (readonly [HandStroke, number])[] {
  if (!cut.touchUp.on) return [];
  return cut.touchUp.strokes
    .map((stroke, k) => [stroke, k] as const)
    .filter(
      ([{ kind, does }]) =>
        kind === 'brush' || kind === 'gap' || (kind === 'area' && (does === 'clear' || does === 'restore')),
    );
}

/** Whether a hand cleared a pixel of a scene at full size, or chose which pieces stay. */
export function clearsByHand({ touchUp: { on, strokes, through } }: Cut, x: number, y: number): boolean {
  if (!on) return false;
  const pixel: Rect = { x, y, width: 1, height: 1 };
  const covered = new Float32Array(1);
  return strokes.some((stroke) => {
    if (stroke.kind === 'island') return true;
    if (stroke.does !== 'clear') return false;
    covered[0] = 0;
    placed(stroke, through, 0).footprint.cover(pixel, covered);
    return covered[0] > 0;
  });
}

/** How far around a part the layer before all strokes must be known; 0 where no stroke un-mixes its rim. */
export function strokeMargin(strokes: readonly Placed[], rect: Rect, reduction: number): number {
  const mixes = strokes.some(
    ({ stroke, footprint }) => looksAround(stroke) && overlapRect(footprint.box, rect),
  );
  return mixes ? rimMarginAt(reduction) : 0;
}

/** What is alike under brushes, remembered. */
const ALIKE = new Fact(() => new Remembered<AlikeMask>(24));

/** The alike pixels under a stroke of a brush that takes only those; null for others. */
export function alikeOf(scene: Scene, { stroke, key, line, footprint }: Placed): AlikeMask | null {
  if (stroke.kind !== 'brush' || !stroke.alike) return null;
  const { tolerance, reads } = stroke.alike;
  const radius = stroke.radiusPx / (1 << scene.reduction);
  return scene.memo.of(ALIKE).at(key, () => alikeMask(scene, { line, footprint, radius, tolerance, reads }));
}

/**
 * Draws strokes, one after the other, onto the part `rect` of the cutout, which lies in `out`. What is certain around the rim
 * of a stroke is told by `base`, the layer before all strokes, and by where the strokes before it went (`earlier` and those of
 * the list), not by what their rims became: so a part needs no more around it however many there are. `changed` is told the
 * place in the list of each stroke that changes a pixel.
 */
export function strokesInto(
  strokes: readonly Placed[],
  earlier: readonly Placed[],
  base: Layer,
  rect: Rect,
  out: Raster,
  scene: Scene,
  changed: ((k: number) => void) | null = null,
): void {
  const margin = strokeMargin(strokes, rect, scene.reduction);
  const wide = clipRect(growRect(rect, margin), scene.raster.width, scene.raster.height);
  const known = margin > 0 ? partOf(base, wide) : null;
  strokes.forEach((one, k) => {
    const part = overlapRect(clipRect(one.footprint.box, scene.raster.width, scene.raster.height), rect);
    if (!part || part.width === 0 || part.height === 0) return;
    let touched = false;
    for (const tile of tilesOf(part, TILE_PX)) {
      if (!one.footprint.touches(tile)) continue;
      const canvas = new Canvas(out, rect, tile, scene.raster);
      drawStroke(one, canvas, scene, known && { known, wide, earlier, strokes, count: k });
      touched ||= canvas.touched;
    }
    if (touched) changed?.(k);
  });
}

/** Side of the squares that a stroke is drawn in: long ones leave most of their box untouched. */
const TILE_PX = 128;

/** What a brush at full strength would leave below this is a veil. */
const VEIL_ALPHA = 8;

/** The part of a cutout that a stroke is drawn on. */
class Canvas {
  touched = false;
  readonly cover: Float32Array;

  constructor(
    readonly out: Raster,
    readonly rect: Rect,
    /** What of it the stroke reaches, in pixels of the scene. */
    readonly part: Rect,
    readonly picture: Raster,
  ) {
    this.cover = new Float32Array(part.width * part.height);
  }

  /** Takes what is covered from a plane of a larger part. */
  take(plane: Float32Array, around: Rect): void {
    const { part, cover } = this;
    for (let y = 0; y < part.height; y++) {
      const from = (part.y + y - around.y) * around.width + part.x - around.x;
      cover.set(plane.subarray(from, from + part.width), y * part.width);
    }
  }

  /** Calls for each pixel that is covered: its place in `cover`, in `out.data`, and in the picture. */
  each(take: (i: number, p: number, x: number, y: number) => void): void {
    const { part, rect, cover } = this;
    for (let y = 0, i = 0; y < part.height; y++) {
      let p = ((part.y + y - rect.y) * rect.width + part.x - rect.x) * 4;
      for (let x = 0; x < part.width; x++, i++, p += 4) if (cover[i]! > 0) take(i, p, part.x + x, part.y + y);
    }
  }

  /** Sets alpha where it is another. */
  setAlpha(p: number, alpha: number): void {
    const { data } = this.out;
    if (data[p + 3] === alpha) return;
    data[p + 3] = alpha;
    this.touched = true;
  }

  setColor(p: number, red: number, green: number, blue: number): void {
    const { data } = this.out;
    data[p] = Math.round(red);
    data[p + 1] = Math.round(green);
    data[p + 2] = Math.round(blue);
  }
}

function drawStroke(one: Placed, canvas: Canvas, scene: Scene, before: Before | null): void {
  const { stroke, footprint } = one;
  const strength = stroke.kind === 'brush' ? stroke.strength / 100 : 1;
  const alike = alikeOf(scene, one);
  const rim = before && looksAround(stroke) ? { ...before, alike } : null;
  if (!rim || rim.alike) footprint.cover(canvas.part, canvas.cover);
  if (stroke.does === 'clear') {
    if (rim?.alike) clearAlike(canvas, scene, strength, { ...rim, alike: rim.alike });
    else
      canvas.each((i, p) => {
        const cover = canvas.cover[i]!;
        const alpha = Math.round(canvas.out.data[p + 3]! * (1 - cover * strength));
        const isVeil = strength === 1 && cover >= 0.5 && alpha < VEIL_ALPHA;
        canvas.setAlpha(p, isVeil ? 0 : alpha);
      });
    return;
  }
  if (stroke.kind === 'gap') layColor(canvas, stroke.color);
  else if (rim) bringBack(one, canvas, scene, strength, rim);
}

/** Alpha from which the color of a pixel that is brought back stays as Edge found it. */
const COLORED_ALPHA = 24;

/** What was there before a stroke. */
interface Before {
  /** The part `wide` of the layer before all strokes. */
  readonly known: Raster;
  readonly wide: Rect;
  /** The strokes before it: `earlier`, then the first `count` of `strokes`. */
  readonly earlier: readonly Placed[];
  readonly strokes: readonly Placed[];
  readonly count: number;
}

/** What is known around the part, for the rim. */
interface Rim extends Before {
  readonly alike: AlikeMask | null;
}

function rimAround({ part, picture }: Canvas, { reduction }: Scene): Rect {
  return clipRect(growRect(part, rimMarginAt(reduction)), picture.width, picture.height);
}

/**
 * What is certain of each pixel of `around` before a stroke: subject where it is opaque, background where it is clear, as the
 * layer before all strokes has it and as brushes and areas of full strength before this one have left it.
 */
function certainBefore({ known, wide, earlier, strokes, count }: Rim, around: Rect): Uint8Array {
  const sure = new Uint8Array(around.width * around.height);
  for (let y = 0, i = 0; y < around.height; y++) {
    let q = ((around.y + y - wide.y) * wide.width + around.x - wide.x) * 4 + 3;
    for (let x = 0; x < around.width; x++, i++, q += 4) {
      const alpha = known.data[q]!;
      if (alpha === 255) sure[i] = SUBJECT;
      else if (alpha === 0) sure[i] = BACKGROUND;
    }
  }
  const note = ({ stroke, footprint }: Placed) => {
    const isPlain =
      stroke.kind === 'brush' ? stroke.alike === null && stroke.strength === 100 : stroke.kind === 'area';
    if (!isPlain || !overlapRect(footprint.box, around) || !footprint.touches(around)) return;
    const core = new Uint8Array(sure.length);
    footprint.core(around, 0, core);
    const left = stroke.does === 'clear' ? BACKGROUND : SUBJECT;
    for (let i = 0; i < core.length; i++) if (core[i] === 1) sure[i] = left;
  };
  earlier.forEach(note);
  for (let k = 0; k < count; k++) note(strokes[k]!);
  return sure;
}

/** Un-mixing with what was certain before a stroke; `note` notes what the stroke itself says. */
function rimMix(
  rim: Rim,
  around: Rect,
  { picture }: Canvas,
  { reduction }: Scene,
  note: (sure: Uint8Array) => void,
): RimMix {
  const sure = certainBefore(rim, around);
  note(sure);
  return new RimMix(sure, around, picture, rim.known, rim.wide, reduction);
}

/**
 * Brings the original back under a stroke: its core as it is, along its rim what is subject of each pixel. Where that cannot be
 * told the rim is the brush's own. What is there already stays; alpha is laid, never paint.
 */
function bringBack(one: Placed, canvas: Canvas, scene: Scene, strength: number, rim: Rim): void {
  const around = rimAround(canvas, scene);
  const rimPx = rimPxAt(scene.reduction);
  const core = new Uint8Array(around.width * around.height);
  const covered = new Float32Array(core.length);
  if (rim.alike) {
    core.set(grownMask(rim.alike, 0, around));
    covered.set(grownMask(rim.alike, rimPx, around));
  } else {
    one.footprint.core(around, rimPx, core);
    one.footprint.cover(around, covered);
    canvas.take(covered, around);
  }
  // Made for the first pixel that needs it: many parts of a stroke are all core, or opaque already.
  let made: RimMix | null = null;
  const mixOf = () =>
    (made ??= rimMix(rim, around, canvas, scene, (sure) => {
      for (let i = 0; i < sure.length; i++) {
        if (core[i] === 1) sure[i] = SUBJECT;
        else if (covered[i]! > 0 && sure[i] === BACKGROUND) sure[i] = UNKNOWN;
      }
    }));
  const { out, cover, picture } = canvas;
  canvas.each((i, p, x, y) => {
    const before = out.data[p + 3]!;
    const most = strength * cover[i]!;
    if (before >= Math.round(255 * most)) return;
    const k = (y - around.y) * around.width + x - around.x;
    if (rim.alike && covered[k] === 0) return;
    const opacity = core[k] === 0 ? mixOf().opacityAt(x, y) : 1;
    // What is not alike comes back only where it is told to be partly so.
    if (rim.alike && opacity === null) return;
    const alpha = Math.round(255 * Math.min(most, opacity ?? 1));
    if (alpha <= before) return;
    const q = (y * picture.width + x) * 4;
    if (before < COLORED_ALPHA) {
      if (core[k] === 1 || opacity === null)
        canvas.setColor(p, picture.data[q]!, picture.data[q + 1]!, picture.data[q + 2]!);
      else {
        const { color } = mixOf();
        canvas.setColor(p, color[0]!, color[1]!, color[2]!);
      }
    }
    canvas.setAlpha(p, Math.max(before, Math.min(alpha, picture.data[q + 3]!)));
  });
}

/** Clears what is alike under a stroke, and of its rim what is background of each pixel. */
function clearAlike(
  canvas: Canvas,
  scene: Scene,
  strength: number,
  rim: Rim & { readonly alike: AlikeMask },
): void {
  const around = rimAround(canvas, scene);
  const taken = grownMask(rim.alike, 0, around);
  const near = grownMask(rim.alike, rimPxAt(scene.reduction), around);
  const mix = rimMix(rim, around, canvas, scene, (sure) => {
    for (let i = 0; i < sure.length; i++) {
      if (taken[i] === 1) sure[i] = BACKGROUND;
      else if (near[i] === 1 || sure[i] === BACKGROUND) sure[i] = UNKNOWN;
    }
  });
  const { out, cover } = canvas;
  canvas.each((i, p, x, y) => {
    const before = out.data[p + 3]!;
    const k = (y - around.y) * around.width + x - around.x;
    if (before === 0 || near[k] === 0) return;
    const opacity = taken[k] === 1 ? 0 : mix.opacityAt(x, y);
    if (opacity === null || opacity >= 1) return;
    const share = strength * cover[i]!;
    const alpha = Math.min(before, Math.round(255 * (1 - share * (1 - opacity))));
    if (alpha === before) return;
    if (before === 255 && opacity > 0) {
      const own = out.data;
      canvas.setColor(
        p,
        own[p]! + share * (mix.color[0]! - own[p]!),
        own[p + 1]! + share * (mix.color[1]! - own[p + 1]!),
        own[p + 2]! + share * (mix.color[2]! - own[p + 2]!),
      );
    }
    canvas.setAlpha(p, taken[k] === 1 ? Math.round(before * (1 - share)) : alpha);
  });
}

/** Lays a color where there is less. */
function layColor(canvas: Canvas, color: string): void {
  const { red, green, blue } = rgbOfHex(color);
  const { data } = canvas.out;
  canvas.each((i, p) => {
    const before = data[p + 3]!;
    const alpha = Math.round(255 * canvas.cover[i]!);
    if (alpha <= before) return;
    const share = (alpha - before) / alpha;
    const own = before === 0 ? [red, green, blue] : [data[p]!, data[p + 1]!, data[p + 2]!];
    canvas.setColor(
      p,
      own[0]! + share * (red - own[0]!),
      own[1]! + share * (green - own[1]!),
      own[2]! + share * (blue - own[2]!),
    );
    canvas.setAlpha(p, alpha);
  });
}
