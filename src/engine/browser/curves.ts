import { placedOn } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { colorOfSample, reachKey } from '../../core/stages/clear/clear';
import { STEPS_PER_UNIT } from '../../core/stages/clear/distance';
import type { ReachMap } from '../../core/stages/clear/reach-map';
import type { Scene } from '../../core/scene/scene';
import type { Sample } from '../../core/stages/clear/settings';
import { safeRangeOf, toleranceCurve } from '../../core/stages/clear/tolerance-curve';
import type { CurveReport } from '../protocol';
import type { SizedBoard } from './board';

type CurveFacts = Omit<CurveReport, 'sampleId'>;

/** Reads the curves of samples, each once for a reach map. */
export class Curves {
  private readonly facts = new WeakMap<ReachMap, CurveFacts>();
  private told = '';

  /** The curves of a cut's samples whose maps are there; null where they were told already. */
  of(on: SizedBoard, cut: Cut): CurveReport[] | null {
    const placed = placedOn(on, cut);
    const curves: CurveReport[] = [];
    for (const sample of placed.clear.samples) {
      const key = reachKey(sample, placed);
      const map = on.sizes.find(({ kept }) => kept.maps.has(key))?.kept.maps.get(key);
      if (!map) continue;
      let facts = this.facts.get(map);
      if (!facts) this.facts.set(map, (facts = readCurve(on.scene, sample, map)));
      curves.push({ sampleId: sample.id, ...facts });
    }
    const told = curves
      .map(
        ({ sampleId, exact, color, percent }) =>
          `${sampleId}${exact}${color.red},${color.green},${color.blue},${percent[30]}`,
      )
      .join();
    if (told === this.told) return null;
    this.told = told;
    return curves;
  }
}

function readCurve(scene: Scene, sample: Sample, map: ReachMap): CurveFacts {
  const curve = toleranceCurve(map);
  const percent = Array.from(
    { length: 101 },
    (_, t) => (100 * curve.cleared[t * STEPS_PER_UNIT]!) / curve.pixels,
  );
  const exact = map.levels.length === scene.raster.width * scene.raster.height;
  return { color: colorOfSample(scene, sample), percent, safeRange: safeRangeOf(curve), exact };
}
