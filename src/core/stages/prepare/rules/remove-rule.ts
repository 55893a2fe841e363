import type { Raster } from '../../../raster/raster';
import { lightIndex } from '../light';
import type { Ruling } from './find-rules';
import { PROFILE_STEPS } from './profile';
import { middleOf } from './rule';

/**
 * Takes one rule out of a raster, in place. What is seen there is a mixture of ink and ruled paper; how much is ink is
 * read from it, and the ruled paper's share is exchanged for bare paper, so that strokes that cross a rule stay.
 */
export function removeRule(raster: Raster, ruling: Ruling, index: number): void {
  const { light, ink, reachPx } = ruling;
  const rule = ruling.rules[index]!;
  const [reds, greens, blues] = ruling.profiles[index]!;
  const { width, height, data } = raster;
  const length = rule.upright ? height : width;
  const most = rule.upright ? width : height;
  const last = reds.length - 2;
  for (let along = 0; along < length; along++) {
    const middle = middleOf(rule, along, length);
    for (let across = Math.ceil(middle - reachPx - 0.5); across < middle + reachPx - 0.5; across++) {
      if (across < 0 || across >= most) continue;
      const at = (across + 0.5 - middle + reachPx) * PROFILE_STEPS;
      const k = Math.min(last, Math.max(0, Math.floor(at)));
      const part = Math.min(1, Math.max(0, at - k));
      const shareRed = reds[k]! + (reds[k + 1]! - reds[k]!) * part;
      const shareGreen = greens[k]! + (greens[k + 1]! - greens[k]!) * part;
      const shareBlue = blues[k]! + (blues[k + 1]! - blues[k]!) * part;
      if (shareRed === 1 && shareGreen === 1 && shareBlue === 1) continue;
      const x = rule.upright ? across : along;
      const y = rule.upright ? along : across;
      const p = (y * width + x) * 4;
      const i = lightIndex(light, x, y);
      const red = light.channels[0][i]!;
      const green = light.channels[1][i]!;
      const blue = light.channels[2][i]!;
      const ruledRed = red * shareRed - ink.red;
      const ruledGreen = green * shareGreen - ink.green;
      const ruledBlue = blue * shareBlue - ink.blue;
      const span = ruledRed * ruledRed + ruledGreen * ruledGreen + ruledBlue * ruledBlue;
      const dot =
        (data[p]! - ink.red) * ruledRed +
        (data[p + 1]! - ink.green) * ruledGreen +
        (data[p + 2]! - ink.blue) * ruledBlue;
      const bare = span > 0 ? Math.min(1, Math.max(0, dot / span)) : 0;
      data[p] = Math.min(255, Math.round(data[p]! + bare * red * (1 - shareRed)));
      data[p + 1] = Math.min(255, Math.round(data[p + 1]! + bare * green * (1 - shareGreen)));
      data[p + 2] = Math.min(255, Math.round(data[p + 2]! + bare * blue * (1 - shareBlue)));
    }
  }
}
