import type { Cut } from '../cut/schema';
import { decisionSteps } from '../decision/decide';
import { placeOf, regionsOf } from '../decision/regions';
import { CHAMFER_UNIT, distancesTo } from '../numeric/chamfer-distance';
import type { Steps } from '../numeric/steps';
import { clipRect, type Rect } from '../raster/raster';
import { factsOf } from '../stages/clear/clear';
import type { Scene } from '../scene/scene';
import { foundAt, type Finding, type Finished, type Fix, type Place } from './finding';

// What the figures of this file rest on: docs/decisions/009-findings-and-mends.md

/** Less than this of what the picture as a whole shows as the subject may be missing without a word. */
const LEAST_MISSING_SHARE = 0.1;

/** A part of what is missing counts from this share of the subject on, and where it is deeper than this, in pixels of the decision. */
const LEAST_PART_SHARE = 0.01;
const DEEP_PX = 2;

/** A cutout of which less than this share of the picture is left covers almost nothing. */
const ALMOST_NOTHING_SHARE = 0.0005;

/** From this alpha on something is there. */
const THERE_ALPHA = 128;

/**
 * Parts of the subject, as the picture as a whole shows it, that are not in the cutout: an object that lost its inside, or
 * hardly anything left at all. `amount` is how much is missing, in percent. By ink nothing of this is looked for.
 */
export function* findMissing(
  scene: Scene,
  cut: Cut,
  window: Rect,
  finished: Finished,
): Steps<Finding | null> {
  if (cut.clear.ink || !cut.clear.on) return null;
  const { width, height } = finished.raster;
  let left = 0;
  const { alpha } = finished;
  for (let i = 0; i < alpha.length; i++) if (alpha[i]! >= THERE_ALPHA) left++;
  if (left < ALMOST_NOTHING_SHARE * width * height) {
    const whole = {
      x: 0,
      y: 0,
      width,
      height,
      at: { x: width >> 1, y: height >> 1 },
      pixels: width * height,
    };
    const percent = `${((100 * left) / (width * height)).toFixed(2)} %`;
    return foundAt(
      'missing',
      'doubt',
      [whole],
      `Almost nothing is left: ${percent} of the picture.${whatToDo(cut)}`,
      100,
    );
  }
  const decision = yield* decisionSteps(scene, factsOf(cut));
  if (!decision || decision.byMarks) return null;
  const { goes, reduction } = decision;
  const scale = 2 ** reduction;
  const middle = (at: number) => at * scale + (scale >> 1);
  const isMissing = (i: number) => {
    if (goes[i] === 1) return false;
    const x = middle(i % decision.width) - window.x;
    const y = middle(Math.floor(i / decision.width)) - window.y;
    return x >= 0 && y >= 0 && x < width && y < height && alpha[y * width + x]! < THERE_ALPHA;
  };
  const regions = regionsOf(decision.width, decision.height, isMissing);
  const depths = distancesTo(decision.width, decision.height, (i) => regions.of[i]! < 0);
  const subject = goes.reduce((sum, one) => sum + 1 - one, 0);
  const parts = regions.list.filter(
    ({ from, to, pixels }) =>
      pixels >= LEAST_PART_SHARE * subject &&
      regions.places.subarray(from, to).some((i) => depths[i]! > DEEP_PX * CHAMFER_UNIT),
  );
  const missing = parts.reduce((sum, { pixels }) => sum + pixels, 0) / Math.max(1, subject);
  if (missing < LEAST_MISSING_SHARE) return null;
  const places = parts.map((part): Place => {
    const { x, y, box } = placeOf(regions, part, depths, decision.width);
    const [x0, y0, x1, y1] = box;
    const rect = {
      x: x0 * scale - window.x,
      y: y0 * scale - window.y,
      width: (x1 - x0 + 1) * scale,
      height: (y1 - y0 + 1) * scale,
    };
    return {
      ...clipRect(rect, width, height),
      at: { x: middle(x) - window.x, y: middle(y) - window.y },
      pixels: part.pixels * scale * scale,
    };
  });
  const percent = Math.round(100 * missing);
  const sentence = `${percent} % of what stands out from the background is cleared too.${whatToDo(cut)}`;
  return foundAt('missing', 'doubt', places, sentence, percent);
}

/** Whether some tolerance was set by hand, so that leaving it to the whole picture changes something. */
export function hasOwnTolerance({ clear }: Cut): boolean {
  return clear.samples.some(({ rule }) => rule === 'tolerance');
}

/** What helps where the fix does not. */
function whatToDo(cut: Cut): string {
  return hasOwnTolerance(cut) ? '' : ' Mark what stays (Clear, By marks).';
}

/** Leaves it to the picture as a whole what is background. */
export const decideByWhole: Fix = (cut) => ({
  ...cut,
  clear: {
    ...cut.clear,
    samples: cut.clear.samples.map((sample) => ({ ...sample, rule: 'whole' as const })),
  },
});
