import type { Cut } from '../core/cut/schema';
import { AS_IT_CAME } from '../core/stages/prepare/settings';
import { frameOf, type Frame } from '../core/stages/prepare/frame';
import type { StageKey } from '../core/stages/stages';
import type { PrepareMode } from './bench-store';

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
