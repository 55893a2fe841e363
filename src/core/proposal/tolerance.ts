import { untouchedCut } from '../cut/parse';
import type { Sample } from '../stages/clear/settings';
import type { Steps } from '../numeric/steps';
import { halvingsTo } from '../raster/reduce';
import { reachOfSample } from '../stages/clear/clear';
import { toleranceLevel } from '../stages/clear/distance';
import type { ReachMap } from '../stages/clear/reach-map';
import { halvedScene, type Scene } from '../scene/scene';
import { startingTolerance, toleranceCurve } from '../stages/clear/tolerance-curve';

// What the figures of this file rest on: docs/decisions/004-proposal-and-pockets.md

/** Pixels that are enough to choose a tolerance and a shade allowance. */
const ROUGH_PIXELS = 120_000;

/** The shade allowances tried, darker than the backdrop, one after another; and how much lighter goes with each. */
const SHADES = [6, 11, 17, 24, 32, 41];
const LIGHTER_TOLERANCE = 6;

/** A safe range that starts beyond this lies behind a shadow or the subject; then this tolerance is proposed. */
const LATEST_SAFE_TOLERANCE = 14;
const CAUTIOUS_TOLERANCE = 10;

/** What the shade allowance must clear more, as a share of the picture, to be kept. */
const SHADE_GAIN_SHARE = 0.002;

/** A step of the allowance that clears so much more at once, as a share of the picture, has broken into the subject. */
const LEAK_SHARE = 0.02;

/** The scene reduced further. */
function roughly(scene: Scene): Scene {
  return halvedScene(scene, halvingsTo(ROUGH_PIXELS, scene.raster.width, scene.raster.height));
}

/**
 * The sample with its tolerance, with a shade allowance where that clears a shadow. The allowance grows in steps: a soft
 * shadow gives less with each, a subject that is broken into suddenly gives more, and then the step before is taken.
 */
export function* withTolerance(whole: Scene, sample: Sample): Steps<Sample> {
  const scene = roughly(whole);
  const plain = yield* plainly(scene, sample);
  let best = plain;
  let lastGain = Infinity;
  for (const darker of SHADES) {
    const shade = { darker, lighter: LIGHTER_TOLERANCE };
    const next = yield* measured(scene, { ...plain.sample, shade });
    const gain = next.cleared - best.cleared;
    if (gain > Math.max(LEAK_SHARE, lastGain * 2.5) || next.cleared > 0.985) break;
    if (best === plain && gain < 0.0005) break;
    best = next;
    lastGain = gain;
  }
  const shadow = best.cleared - plain.cleared >= SHADE_GAIN_SHARE;
  return (shadow ? best : plain).sample;
}

interface Measured {
  readonly sample: Sample;
  /** Share of the picture that the sample clears. */
  readonly cleared: number;
}

function* plainly(scene: Scene, sample: Sample): Steps<Measured> {
  const joined = yield* reachOfSample(scene, sample, untouchedCut(), new Map());
  const { tolerance, safeRange } = startingTolerance(toleranceCurve(joined));
  const early = safeRange !== null && safeRange.from <= LATEST_SAFE_TOLERANCE;
  return asMeasured({ ...sample, tolerance: early ? tolerance : CAUTIOUS_TOLERANCE }, joined);
}

function* measured(scene: Scene, sample: Sample): Steps<Measured> {
  return asMeasured(sample, yield* reachOfSample(scene, sample, untouchedCut(), new Map()));
}

function asMeasured(sample: Sample, joined: ReachMap): Measured {
  const limit = toleranceLevel(sample.tolerance);
  let count = 0;
  for (const level of joined.levels) if (level <= limit) count++;
  return { sample, cleared: count / joined.levels.length };
}
