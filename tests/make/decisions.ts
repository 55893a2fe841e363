import { SOLID } from '../../src/core/decision/carry';
import { decisionSteps } from '../../src/core/decision/decide';
import type { Facts } from '../../src/core/decision/decision';
import { keepingDecisions, KeptDecisions, takeDecision } from '../../src/core/decision/kept-decisions';
import { runToEnd } from '../../src/core/numeric/steps';
import type { Raster } from '../../src/core/raster/raster';
import { sceneOf } from '../../src/core/scene/scene';

/** What another program might have decided of a picture: that all of it stays. */
export function decidedOtherwise(picture: Raster, facts: Facts): KeptDecisions {
  const scene = sceneOf(picture);
  const own = runToEnd(decisionSteps(scene, facts))!;
  const { carried } = own;
  const decisions = new KeptDecisions();
  keepingDecisions(scene, decisions, '');
  takeDecision(scene, JSON.stringify(facts), {
    ...own,
    goes: own.goes.map(() => 0),
    firm: own.firm.map(() => 1),
    carried: { ...carried, zones: carried.zones.map(() => SOLID), mask: carried.mask.map(() => 0) },
  });
  return decisions;
}
