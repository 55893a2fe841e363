import { SRGB_TO_LINEAR } from '../color/oklab';
import { contrastOf } from '../proof/contrast';
import type { DrawnMark, MarkVersion } from './draw-mark';
import { blendPixel, type MarkOrigin, type MarkTone } from './lay-mark';
import { solidAlpha } from './mark-effects';
import type { PhotoView } from './photo-view';
import type { MarkLook } from './settings';

// What the figures of this file rest on: docs/decisions/021-watermarks.md

/** How a copy can be read. */
export interface MarkSeen extends MarkTone {
  /** The contrast (WCAG 2.2) that nine tenths of its edge have at least; null where no edge of it lies on the photo. */
  readonly contrast: number | null;
}

/** So much of the edge may have less contrast than is said. */
const PASSED_SHARE = 0.1;

/** How far from an edge its two sides are looked at, in pixels. */
const REACH_PX = 3;

/** What is at most so opaque is ground. */
const BARE_ALPHA = 16;

/** Places along the edge that are read at most of one mark, and of each of many copies; pixels of ground beside each. */
export const MOST_PLACES = 1400;
export const MOST_PLACES_OF_MANY = 350;
const MOST_BESIDE = 8;

/** A place on the edge: a pixel of the mark, and pixels of ground beside it, as indices of the mark's region. */
interface EdgePlace {
  readonly solid: number;
  readonly beside: readonly number[];
}

/** The places of a mark's edge; found once for all of its copies. */
export function edgeOfMark(mark: DrawnMark, mostPlaces = MOST_PLACES): EdgePlace[] {
  const { width, height } = mark;
  const alpha = mark.measured.data;
  const face = mark.face.light.data;
  const least = solidAlpha(mark.measured);
  const edge: number[] = [];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1, i = y * width + 1; x < width - 1; x++, i++)
      if (
        alpha[i]! >= least &&
        (alpha[i - 1]! < least ||
          alpha[i + 1]! < least ||
          alpha[i - width]! < least ||
          alpha[i + width]! < least)
      )
        edge.push(i);
  const every = Math.max(1, Math.ceil(edge.length / mostPlaces));
  const places: EdgePlace[] = [];
  for (let k = 0; k < edge.length; k += every) {
    const i = edge[k]!;
    const x = i % width;
    const y = (i - x) / width;
    let solid = i;
    const beside: number[] = [];
    for (let v = Math.max(0, y - REACH_PX); v <= Math.min(height - 1, y + REACH_PX); v++)
      for (let u = Math.max(0, x - REACH_PX); u <= Math.min(width - 1, x + REACH_PX); u++) {
        const j = v * width + u;
        if (alpha[j]! > alpha[solid]!) solid = j;
        if (face[j * 4 + 3]! <= BARE_ALPHA) beside.push(j);
      }
    if (beside.length === 0) continue;
    const thin = Math.ceil(beside.length / MOST_BESIDE);
    places.push({ solid, beside: beside.filter((_, n) => n % thin === 0) });
  }
  return places;
}

/** The contrast that nine tenths of an edge have at least, and that half of it has. */
interface EdgeContrasts {
  readonly most: number;
  readonly half: number;
}

/** The contrast of a mark's edge on a photo; null where none of its edge lies on it. */
export function contrastOn(
  view: PhotoView,
  mark: DrawnMark,
  edge: readonly EdgePlace[],
  { x: left, y: top }: MarkOrigin,
  tone: MarkTone,
  blend: MarkLook['blend'],
): EdgeContrasts | null {
  const out = new Uint8Array(4);
  const light = (i: number): number => {
    const x = (i % mark.width) + left;
    const y = Math.floor(i / mark.width) + top;
    if (x < 0 || y < 0 || x >= view.width || y >= view.height) return -1;
    blendPixel(view, view.origin + x * view.stepX + y * view.stepY, mark, i, tone, blend, out);
    return (
      0.2126 * SRGB_TO_LINEAR[out[0]!]! +
      0.7152 * SRGB_TO_LINEAR[out[1]!]! +
      0.0722 * SRGB_TO_LINEAR[out[2]!]!
    );
  };
  const found: number[] = [];
  for (const { solid, beside } of edge) {
    const own = light(solid);
    if (own < 0) continue;
    let sum = 0;
    let count = 0;
    for (const j of beside) {
      const other = light(j);
      if (other < 0) continue;
      sum += other;
      count++;
    }
    if (count > 0) found.push(contrastOf(own, sum / count));
  }
  if (found.length === 0) return null;
  found.sort((one, other) => one - other);
  return { most: found[Math.floor(PASSED_SHARE * found.length)]!, half: found[found.length >> 1]! };
}

/** Steps of the search for the least veil, and of opacity. */
const VEIL_STEPS = 7;
const OPACITY_STEP = 0.05;

/**
 * Finds what a copy needs where it lies: the version with more contrast (of half of its edge), the least veil that the wanted contrast needs, up to the most
 * that is allowed; beyond that more opacity, and at last a whole veil.
 */
export function toneOn(
  view: PhotoView,
  mark: DrawnMark,
  edge: readonly EdgePlace[],
  at: MarkOrigin,
  { version: wanted, opacity: percent, blend, contrast: { least, most } }: MarkLook,
): MarkSeen {
  const measure = (tone: MarkTone) => contrastOn(view, mark, edge, at, tone, blend)?.most ?? null;
  const opacity = percent / 100;
  const plain = (version: MarkVersion) => {
    const tone = { version, veil: 0, opacity };
    const found = contrastOn(view, mark, edge, at, tone, blend);
    return { seen: { ...tone, contrast: found?.most ?? null }, half: found?.half ?? 0 };
  };
  const tried = wanted === 'auto' ? [plain('light'), plain('dark')] : [plain(wanted)];
  const { seen: best } = tried.reduce((one, other) => (other.half > one.half ? other : one));
  if (best.contrast === null || best.contrast >= least) return best;
  for (let more = opacity; ; more = Math.min(1, more + OPACITY_STEP)) {
    const found = leastVeil({ ...best, opacity: more }, most / 100, least, measure);
    if (found) return found;
    if (more >= 1) break;
  }
  const whole = leastVeil({ ...best, opacity: 1 }, 1, least, measure);
  if (whole) return whole;
  const tone = { version: best.version, veil: 1, opacity: 1 };
  return { ...tone, contrast: measure(tone) };
}

/** The least veil by which a tone reaches a contrast; null where the most does not. */
function leastVeil(
  { version, opacity }: MarkTone,
  most: number,
  least: number,
  measure: (tone: MarkTone) => number | null,
): MarkSeen | null {
  const at = (veil: number): MarkSeen => {
    const tone = { version, veil, opacity };
    return { ...tone, contrast: measure(tone) };
  };
  let found = at(most);
  if ((found.contrast ?? 0) < least) return null;
  let low = 0;
  let high = most;
  for (let k = 0; k < VEIL_STEPS; k++) {
    const middle = at((low + high) / 2);
    if ((middle.contrast ?? 0) >= least) {
      found = middle;
      high = middle.veil;
    } else low = middle.veil;
  }
  return found;
}
