import { runToEnd } from '../numeric/steps';
import type { Raster } from '../raster/raster';
import type { Rgb } from '../stages/clear/sample-color';
import { inOrder } from './check-cut';
import { finishedOf, type Finding } from './finding';
import { findFrameTouches } from './frame-touch';
import { findHalo, LIKELY_BACKGROUNDS } from './halo';
import { findHiddenColor } from './hidden-color';
import { findPinholes } from './pinholes';
import { findResidue } from './residue';
import { findRoughEdges } from './rough-edge';
import { findSpecks } from './specks';

/**
 * The checks that make sense on a finished picture of which nothing else is known. `backgrounds` are what may have stood behind
 * it before; where there are none, white and black are tried for a halo. A picture without any transparency touches the frame all around.
 */
export function checkFile(raster: Raster, backgrounds: readonly Rgb[]): Finding[] {
  const finished = finishedOf(raster);
  const behind = backgrounds.length > 0 ? backgrounds.map((color) => () => color) : LIKELY_BACKGROUNDS;
  return inOrder([
    runToEnd(findSpecks(finished)),
    runToEnd(findPinholes(finished, [])),
    findFrameTouches(finished, []),
    runToEnd(findResidue(finished)),
    runToEnd(findRoughEdges(finished)),
    runToEnd(findHalo(finished, behind)),
    findHiddenColor(raster, 'file'),
  ]);
}
