import { parseCut } from '../../core/cut/parse';
import type { Page } from '../../core/cut/page';
import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import { proposeSteps } from '../../core/proposal/propose';
import type { Scene } from '../../core/scene/scene';
import { frameOf } from '../../core/stages/prepare/frame';

export interface FirstCut {
  readonly cut: Cut | null;
  readonly reason: string;
  readonly trouble: string | null;
}

/** The first cut of a picture; null, with a reason, where none is proposed. `trouble` says what went wrong, for the log. */
export function firstCut(scene: Scene, page: Page): FirstCut {
  const { width, height } = scene.original;
  try {
    const { cut: proposed, reason } = runToEnd(proposeSteps(scene, { crop: true, straighten: true }));
    const cut = proposed && { ...proposed, page };
    if (cut) assertUsable(cut, width, height);
    return { cut, reason, trouble: null };
  } catch (error) {
    const reason = 'No first cut could be proposed for it: click the background to place a sample.';
    return { cut: null, reason, trouble: (error as Error).stack ?? String(error) };
  }
}

/** Whether a cut passes every check that a saved one must pass, on a picture of that size. */
function assertUsable(cut: Cut, width: number, height: number): void {
  frameOf(parseCut(cut).prepare, width, height);
}
