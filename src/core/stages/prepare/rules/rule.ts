import { lumaOf } from '../../../color/luma';
import { median } from '../../../numeric/statistics';
import { solveSymmetric } from '../../../numeric/solve';
import type { Raster } from '../../../raster/raster';
import { CAP_SHARE } from '../darkness';
import { lightIndex, type Light } from '../light';

/** Stretches into which a rule is parted to follow its bend. */
const STRETCHES = 24;

/** One ruled line, in pixels of the raster: its middle is at `at` + `slope` * t + `bend` * t * t, t running -1 to 1. */
export interface Rule {
  readonly upright: boolean;
  readonly at: number;
  readonly slope: number;
  readonly bend: number;
  /** Whether it cuts off a corner or lies on the picture's border, so that too little is seen of it to follow its bend. */
  readonly short: boolean;
}

/** The middle of a rule across its direction, at place `along` of its length. */
export function middleOf({ at, slope, bend }: Rule, along: number, length: number): number {
  const t = (2 * (along + 0.5)) / length - 1;
  return at + slope * t + bend * t * t;
}

/** How far a rule's darkest places lie off it, stretch by stretch: [place of the stretch, -1 to 1; offset]. */
function offsetsOf(raster: Raster, light: Light, rule: Rule, reachPx: number): [number, number][] {
  const length = rule.upright ? raster.height : raster.width;
  const most = rule.upright ? raster.width : raster.height;
  const sums = new Float64Array(2 * reachPx + 1);
  const found: [number, number][] = [];
  for (let stretch = 0; stretch < STRETCHES; stretch++) {
    const from = Math.floor((stretch * length) / STRETCHES);
    const to = Math.floor(((stretch + 1) * length) / STRETCHES);
    sums.fill(0);
    const middle = middleOf(rule, (from + to) >> 1, length);
    if (middle < 0 || middle >= most) continue;
    for (let along = from; along < to; along++) {
      const here = middleOf(rule, along, length);
      for (let k = -reachPx; k <= reachPx; k++)
        sums[k + reachPx]! += Math.min(
          CAP_SHARE,
          darkAt(raster, light, rule.upright, along, Math.floor(here + k)),
        );
    }
    const center = centerOf(sums);
    if (center !== null) found.push([(from + to) / length - 1, center - reachPx]);
  }
  return found;
}

/** The rule with its slope and bend, from where it is darkest in each of its stretches. */
export function followed(raster: Raster, light: Light, rule: Rule, reachPx: number): Rule {
  const offsets = offsetsOf(raster, light, rule, reachPx);
  if (offsets.length < STRETCHES / 2) return rule;
  const matrix = new Float64Array(9);
  const right = new Float64Array(3);
  for (const [t, offset] of offsets) {
    const basis = [1, t, t * t];
    const value = rule.at + rule.slope * t + rule.bend * t * t + offset;
    for (let j = 0; j < 3; j++) {
      for (let k = 0; k < 3; k++) matrix[j * 3 + k]! += basis[j]! * basis[k]!;
      right[j]! += basis[j]! * value;
    }
  }
  const solved = solveSymmetric(matrix, 3, [right]);
  if (!solved) return rule;
  const [at, slope, bend] = solved[0]!;
  return { ...rule, at: at!, slope: slope!, bend: bend! };
}

/** Neighboring rules run alike within so many pixels at their ends. */
const ALIKE_PX = 0.3;

/** A rule that runs otherwise than those near it was led astray by ink along it: then it runs as they do. */
export function agreeing(
  raster: Raster,
  light: Light,
  rule: Rule,
  near: readonly Rule[],
  reachPx: number,
): Rule {
  if (near.length < 2) return rule;
  const slope = median(near.map((one) => one.slope));
  const bend = median(near.map((one) => one.bend));
  if (Math.abs(rule.slope - slope) <= ALIKE_PX && Math.abs(rule.bend - bend) <= ALIKE_PX) return rule;
  return shifted(raster, light, { ...rule, at: rule.at + (rule.bend - bend) / 3, slope, bend }, reachPx);
}

/** The rule moved to where it is darkest, as it lies otherwise. */
export function shifted(raster: Raster, light: Light, rule: Rule, reachPx: number): Rule {
  const offsets = offsetsOf(raster, light, rule, reachPx).map(([, offset]) => offset);
  return offsets.length > 0 ? { ...rule, at: rule.at + median(offsets) } : rule;
}

/** The center of what stands out of a profile; null where nothing does. */
function centerOf(sums: Float64Array): number | null {
  const base = median([...sums]);
  let weight = 0;
  let sum = 0;
  for (let k = 0; k < sums.length; k++) {
    const more = Math.max(0, sums[k]! - base);
    weight += more * more;
    sum += more * more * k;
  }
  return weight > 0 ? sum / weight : null;
}

function darkAt(raster: Raster, light: Light, upright: boolean, along: number, across: number): number {
  const x = upright ? across : along;
  const y = upright ? along : across;
  if (x < 0 || y < 0 || x >= raster.width || y >= raster.height) return 0;
  const p = (y * raster.width + x) * 4;
  const i = lightIndex(light, x, y);
  const paper = lumaOf(light.channels[0][i]!, light.channels[1][i]!, light.channels[2][i]!);
  return Math.max(
    0,
    1 - lumaOf(raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!) / Math.max(1, paper),
  );
}
