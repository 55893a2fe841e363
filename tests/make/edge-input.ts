import { Scratch } from '../../src/core/numeric/scratch';
import { wholeOf, type Raster } from '../../src/core/raster/raster';
import type { EdgeInput } from '../../src/core/stages/edge/mixture';

/** What edges of a picture are estimated from where `isCleared` says what Clear took; ordinary settings unless changed. */
export function edgeInput(
  raster: Raster,
  isCleared: (x: number, y: number) => boolean,
  change: Partial<EdgeInput> = {},
): EdgeInput {
  const around = change.around ?? wholeOf(raster);
  const cleared = Uint8Array.from({ length: around.width * around.height }, (_, i) =>
    isCleared(around.x + (i % around.width), around.y + Math.floor(i / around.width)) ? 1 : 0,
  );
  return {
    raster,
    around,
    cleared,
    halvedChroma: false,
    drawnColors: [],
    backdrop: null,
    evenBackdrop: true,
    color: null,
    widthPx: null,
    strokes: [],
    reduction: 0,
    spill: 1,
    reflectionScale: 0,
    alike: null,
    scratch: new Scratch(),
    ...change,
  };
}
