import type { Helpers } from '../helpers';
import { Scratch } from '../numeric/scratch';
import { assertRaster, type Raster } from '../raster/raster';
import { halve, smallCopy, type Reduced } from '../raster/reduce';
import { Fact, Memo } from './memo';

/**
 * A picture at one size: `raster` is the original reduced `reduction` times by halving, so original pixel (x, y) lies in
 * pixel (x >> reduction, y >> reduction). Sample colors and models of the backdrop are always read from `original`.
 */
export interface Scene extends Reduced {
  readonly original: Raster;
  /** What was found out about the picture while it was worked on, shared by all its sizes. */
  readonly memo: Memo;
  /** Memory that is used again. */
  readonly scratch: Scratch;
  /** Other threads that draw parts of it; null where there are none. */
  readonly helpers: Helpers | null;
}

/** The picture at the size of its small copy. */
const SMALL = new Fact((): { copy: Reduced | null } => ({ copy: null }));

/** A picture at its own size, nothing known yet. Throws `bad-argument` where raster and size disagree. */
export function sceneOf(original: Raster, helpers: Helpers | null = null): Scene {
  assertRaster(original);
  return { original, raster: original, reduction: 0, memo: new Memo(), scratch: new Scratch(), helpers };
}

/** The scene halved `times` times more. */
export function halvedScene(scene: Scene, times = 1): Scene {
  let { raster } = scene;
  for (let k = 0; k < times; k++) raster = halve(raster);
  return { ...scene, raster, reduction: scene.reduction + times };
}

/** The scene at the size of the small copy, which is made once. */
export function smallScene(scene: Scene): Scene {
  const { raster, reduction } = (scene.memo.of(SMALL).copy ??= smallCopy(scene.original));
  return { ...scene, raster, reduction };
}

/** The scene at so many halvings of the original. */
export function sceneAt(scene: Scene, reduction: number): Scene {
  const { memo, original } = scene;
  if (scene.reduction === reduction) return scene;
  if (scene.reduction < reduction && scene.reduction > 0)
    return halvedScene(scene, reduction - scene.reduction);
  const small = memo.of(SMALL).copy;
  if (small && small.reduction <= reduction)
    return halvedScene({ ...scene, ...small }, reduction - small.reduction);
  return halvedScene({ ...scene, raster: original, reduction: 0 }, reduction);
}
