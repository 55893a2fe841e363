import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { decodeMaster } from '../src/codec/decode';
import { decisionSteps } from '../src/core/decision/decide';
import { planesBy } from '../src/core/decision/pattern';
import { runToEnd } from '../src/core/numeric/steps';
import { proposeSteps } from '../src/core/proposal/propose';
import type { Raster } from '../src/core/raster/raster';
import { renderScene } from '../src/core/render';
import { sceneAt, sceneOf } from '../src/core/scene/scene';
import { Kept } from '../src/core/stages/kept';
import { factsOf } from '../src/core/stages/clear/clear';
import { areaFeatures, FEATURE_NAMES } from './area-features';

// Writes what is seen of every area of the pictures below some folders, and whether it is right in the cutout, a line of JSON each:
// node scripts/tool.mjs areas FOLDER... > areas.jsonl

/** Smaller areas, as a share of the subject, are never asked about. */
const LEAST_SHARE = 0.004;

/** An area of which the truth clears a share between these is neither right nor wrong. */
const UNCLEAR = [0.25, 0.75] as const;

interface Case {
  readonly name: string;
  readonly input: string;
  readonly truth: string;
}

console.log(JSON.stringify({ names: FEATURE_NAMES }));
for (const folder of process.argv.slice(2))
  for (const entry of readdirSync(path.join(folder, 'cases')).sort()) {
    const place = path.join(folder, 'cases', entry);
    const {
      name,
      input,
      truth: truthFile,
    } = JSON.parse(readFileSync(path.join(place, 'case.json'), 'utf8')) as Case;
    const original = await decodeMaster(path.join(place, input), name);
    const truth = await decodeMaster(path.join(place, truthFile), name);
    const scene = sceneOf(original);
    const { cut, kind } = runToEnd(proposeSteps(scene, { method: 'color' }));
    if (!cut || kind === 'ink') continue;
    const decision = runToEnd(decisionSteps(scene, factsOf(cut)));
    if (!decision) continue;
    const { areas, reduction, carried } = decision;
    const features = areaFeatures(decision, planesBy(sceneAt(scene, reduction), carried.checker));
    const cutout = runToEnd(renderScene(scene, cut, new Kept(0))).raster;
    let subject = 0;
    for (let p = 3; p < truth.data.length; p += 4) if (truth.data[p]! > 127) subject++;
    for (const [k, area] of areas.entries()) {
      const share = area.pixels / Math.max(1, subject);
      if (share < LEAST_SHARE) continue;
      const places = [...area.dots, [area.x, area.y] as const];
      const clearShare = ({ data }: Raster) =>
        places.filter(([x, y]) => data[(y * original.width + x) * 4 + 3]! < 128).length / places.length;
      const goes = clearShare(truth);
      if (goes > UNCLEAR[0] && goes < UNCLEAR[1]) continue;
      // What a decision leaves to the tolerance may be right in the cutout though it is not in the decision.
      const right = goes > 0.5 === clearShare(cutout) > 0.5;
      const { why, sure } = area;
      console.log(JSON.stringify({ name, why, goes: area.goes, sure, share, right, features: features(k) }));
    }
  }
