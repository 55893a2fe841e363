import type { Cut } from '../../cut/schema';
import type { KeptDecisions } from '../../decision/kept-decisions';
import type { Helpers } from '../../helpers';
import { inUnits } from '../../numeric/matrix3';
import { runToEnd, type Steps } from '../../numeric/steps';
import { createRaster, wholeOf, type Raster, type Rect } from '../../raster/raster';
import { reduceRect, smallCopy, type Reduced } from '../../raster/reduce';
import type { Stage } from '../stage';
import { STAGES } from '../stages';
import type { Scene } from '../../scene/scene';
import { CALM_ROWS, calmRows, estimateNoise } from './calm';
import { frameOf, type Frame } from './frame';
import { framedCut, isUnprepared, workOf } from './framed-cut';
import { estimateLight, evenLight, flattenRows, gainsOf, type Light } from './light';
import { copyRows, resampleRows } from './resample';
import { findRules } from './rules/find-rules';
import { removeRule } from './rules/remove-rule';
import { PREPARE } from './settings';

/** A picture after Prepare, with the cut's places on it. */
export interface Prepared {
  readonly frame: Frame;
  /** The part of the frame that `raster` holds: the crop, and what around it is needed to clear it. */
  readonly work: Rect;
  /** The crop within `raster`: what is delivered. */
  readonly window: Rect;
  readonly raster: Raster;
  /** The cut with its places in pixels of `raster`. */
  readonly cut: Cut;
}

/** What was found out about an original, shared by all that is prepared from it. */
export interface Source {
  readonly original: Raster;
  /** Other threads that draw parts of it. */
  readonly helpers?: Helpers | null;
  /** What was decided of it before; what is decided now is noted there. */
  readonly decisions?: KeptDecisions | null;
  /** The original as stages behind Prepare work on it where nothing is prepared. */
  scene?: Scene;
  small?: Reduced;
  light?: Light;
  /** The small copy in even light. */
  flat?: Raster;
}

/** Says of two cuts with the same key that they are prepared to the same pixels. */
export function prepareKey(cut: Cut, original: { readonly width: number; readonly height: number }): string {
  if (isUnprepared(cut)) return '';
  const frame = frameOf(cut.prepare, original.width, original.height);
  return JSON.stringify([cut.prepare, workOf(frame, cut)]);
}

/**
 * original + the Prepare stage -> the picture that all later stages work on. Pixels are resampled once, and not at all
 * where they are only turned, flipped or cropped. Throws `bad-argument` where corners or crop make no picture.
 */
export function* prepareSteps(source: Source, cut: Cut, stages: readonly Stage[] = STAGES): Steps<Prepared> {
  const { original } = source;
  const frame = frameOf(cut.prepare, original.width, original.height);
  if (isUnprepared(cut)) {
    const whole = wholeOf(original);
    return { frame, work: whole, window: whole, raster: original, cut };
  }
  const work = workOf(frame, cut, stages);
  const { crop } = frame;
  const window = { ...crop, x: crop.x - work.x, y: crop.y - work.y };
  const raster = yield* developed(source, cut.prepare, frame, work, 0);
  return { frame, work, window, raster, cut: framedCut(cut, frame, work, stages) };
}

/**
 * The part `rect` of the frame (in pixels of the frame reduced by `reduction` halvings) from an original that is reduced as
 * often. With a reduction it is a draft, near to what the full size becomes.
 */
export function* developed(
  source: Source,
  prepare: Cut['prepare'],
  frame: Frame,
  rect: Rect,
  reduction: number,
  reduced: Raster = source.original,
): Steps<Raster> {
  const unit = 1 << reduction;
  const toOriginal = inUnits(frame.toOriginal, unit);
  // Reduced pixels of a picture that is turned or flipped fall beside those of the frame where a side is odd.
  const exact = frame.exact && (reduction === 0 || (prepare.turn === 0 && !prepare.flip));
  let out = createRaster(rect.width, rect.height);
  const light = prepare.flatten > 0 ? lightOf(source) : null;
  const gains = light && gainsOf(light, prepare.flatten / 100);
  const placeOf = (row: number, xs: Float64Array, ys: Float64Array) => {
    const [a, b, c, d, e, f, g, h, i] = toOriginal;
    const y = rect.y + row + 0.5;
    for (let column = 0; column < xs.length; column++) {
      const x = rect.x + column + 0.5;
      const w = (g * x + h * y + i) / unit;
      xs[column] = (a * x + b * y + c) / w;
      ys[column] = (d * x + e * y + f) / w;
    }
  };
  const rows = Math.max(1, Math.min(CALM_ROWS, Math.floor(400_000 / rect.width)));
  for (let y = 0; y < rect.height; y += rows) {
    const to = Math.min(rect.height, y + rows);
    if (exact) copyRows(reduced, toOriginal, rect, y, to, out);
    else resampleRows(reduced, toOriginal, rect, y, to, out);
    if (gains) flattenRows(out, gains, placeOf, y, to);
    yield { doing: PREPARE.doing, done: to, total: 2 * rect.height };
  }
  if (prepare.calm > 0) out = yield* calmed(out, prepare.calm / 100);
  if (prepare.removeRules) {
    const small = smallCopy(out);
    const paper = light && prepare.flatten === 100 ? evenLight(light.paper) : estimateLight(small);
    const ruling = findRules(out, small, paper);
    for (let k = 0; ruling && k < ruling.rules.length; k++) {
      removeRule(out, ruling, k);
      yield { doing: PREPARE.doing, done: k + 1, total: ruling.rules.length };
    }
  }
  return out;
}

function* calmed(raster: Raster, strength: number): Steps<Raster> {
  const noise = estimateNoise(raster);
  const out = createRaster(raster.width, raster.height, raster.data.slice());
  for (let y = 0; y < raster.height; y += CALM_ROWS) {
    const to = Math.min(raster.height, y + CALM_ROWS);
    calmRows(raster, noise, strength, y, to, out);
    yield { doing: PREPARE.doing, done: raster.height + to, total: 2 * raster.height };
  }
  return out;
}

/** The paper of an original, estimated once. */
export function lightOf(source: Source): Light {
  return (source.light ??= estimateLight((source.small ??= smallCopy(source.original))));
}

/** The whole picture as it lies by other settings of Prepare, not cropped, at the size of its small copy. */
export function uncropped(source: Source, settings: Cut['prepare']): Raster {
  const { raster, reduction } = (source.small ??= smallCopy(source.original));
  const prepare = { ...settings, crop: null };
  const frame = frameOf(prepare, source.original.width, source.original.height);
  const rect = reduceRect(wholeOf(frame), reduction);
  return runToEnd(developed(source, prepare, frame, rect, reduction, raster));
}
