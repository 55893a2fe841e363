import { same } from '../core/stages/stage';
import type { View } from '../core/view/compose';
import { fit } from './placement';
import type { Cut } from '../core/cut/schema';
import { AS_IT_CAME } from '../core/stages/prepare/settings';
import { frameOf, type Frame } from '../core/stages/prepare/frame';
import type { StageKey } from '../core/stages/stages';
import type { PrepareMode } from './bench-state';

interface Size {
  readonly width: number;
  readonly height: number;
}

/** The cut as the sheet shows it: while Prepare is open not cropped, and while corners are set as it came. */
export function shownCut(cut: Cut, stage: StageKey, mode: PrepareMode): Cut {
  if (stage !== 'prepare') return cut;
  if (mode === 'corners') return { ...cut, prepare: AS_IT_CAME };
  return { ...cut, prepare: { ...cut.prepare, crop: null } };
}

/** The frame of what is shown, and the size of the result. */
export function framing(
  cut: Cut,
  stage: StageKey,
  mode: PrepareMode,
  { width, height }: Size,
): { readonly frame: Frame; readonly output: Size } {
  const output = frameOf(cut.prepare, width, height);
  const shown = shownCut(cut, stage, mode);
  const frame = shown === cut ? output : frameOf(shown.prepare, width, height);
  return { frame, output: { width: output.crop.width, height: output.crop.height } };
}

/** The view of another frame: what is seen stays in its place, or all of it is fitted again. */
export function viewAfter(view: View, fitted: boolean, before: Frame, after: Frame): View {
  const [from, to] = [before.crop, after.crop];
  const isSame = same(from, to) && after.width === before.width && after.height === before.height;
  if (isSame) return view;
  if (fitted) return fit(to, view);
  return {
    ...view,
    left: view.left + (to.x - from.x) * view.scale,
    top: view.top + (to.y - from.y) * view.scale,
  };
}
