import { labOf } from '../../src/core/color/oklab';
import type { Reach } from '../../src/core/stages/clear/settings';
import { runToEnd } from '../../src/core/numeric/steps';
import type { Raster, Rect } from '../../src/core/raster/raster';
import { distanceLevels } from '../../src/core/stages/clear/distance';
import { reachMapSteps, type Measure, type ReachMap } from '../../src/core/stages/clear/reach-map';
import { sampleAreas, sampleColor } from '../../src/core/stages/clear/sample-color';

/** The square of pixels that a plain sample reads. */
export function areaAt(x: number, y: number, areaPx: number, raster: Raster): Rect {
  return sampleAreas({ x, y, to: null, areaPx }, raster)[0]!;
}

/** The plain distance to an area's color. */
export function flatMeasure(raster: Raster, area: Rect): Measure {
  const { red, green, blue } = sampleColor(raster, [area]);
  const lab = labOf(red, green, blue);
  const { width } = raster;
  return (from, to, mark, out) => distanceLevels(raster, lab, from * width, to * width, mark, out);
}

/** The reach map of an area's color, without shade or backdrop model. */
export function flatReachMap(raster: Raster, area: Rect, reach: Reach): ReachMap {
  return runToEnd(reachMapSteps(raster, flatMeasure(raster, area), [area], reach));
}
