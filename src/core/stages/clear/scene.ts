import type { Decision, Look } from '../../decision/decide';
import { Scratch } from '../../numeric/scratch';
import { halve, smallCopy, type Reduced } from '../../raster/reduce';
import { assertRaster, type Raster } from '../../raster/raster';
import type { Checker } from './checker';
import type { Rgb } from './sample-color';
import type { Surface } from './surface';

/** What was found out about a picture while it was worked on, shared by all its sizes, and memory that is used again. */
export interface Known {
  /** Undefined as long as nobody asked. */
  small?: Reduced;
  checker?: Checker | null;
  readonly surfaces: Map<string, Surface | null>;
  /** What samples read, by where they read it. */
  readonly colors: Map<string, Rgb>;
  /** Whether chroma has half the resolution, by reduction. */
  readonly halvedChroma: Map<number, boolean>;
  /** The few colors of a drawn subject, by what the background is; see `drawnColors`. */
  readonly drawnColors: Map<string, readonly Float64Array[]>;
  /** The bare paper's color, by the levels that tell it from ink. */
  readonly papers: Map<string, Rgb>;
  /** Specks that are dropped, by size and settings. */
  readonly specks: Map<string, Uint8Array | null>;
  /** What was seen of the picture as a whole; undefined as long as nobody asked. */
  look?: Look | null;
  /** What was decided, by what was told. */
  readonly decisions: Map<string, Decision | null>;
  readonly scratch: Scratch;
}

/**
 * A picture at one size: `raster` is the original reduced `reduction` times by halving, so original pixel (x, y) lies in
 * pixel (x >> reduction, y >> reduction). Sample colors and models of the backdrop are always read from `original`.
 */
export interface Scene extends Reduced {
  readonly original: Raster;
  readonly known: Known;
}

/** A picture at its own size, nothing known yet. Throws `bad-argument` where raster and size disagree. */
export function sceneOf(original: Raster): Scene {
  assertRaster(original);
  const known: Known = {
    surfaces: new Map(),
    colors: new Map(),
    halvedChroma: new Map(),
    drawnColors: new Map(),
    papers: new Map(),
    specks: new Map(),
    decisions: new Map(),
    scratch: new Scratch(),
  };
  return { original, raster: original, reduction: 0, known };
}

/** The scene halved `times` times more. */
export function halvedScene(scene: Scene, times = 1): Scene {
  let { raster } = scene;
  for (let k = 0; k < times; k++) raster = halve(raster);
  return { ...scene, raster, reduction: scene.reduction + times };
}

/** The scene at the size of the small copy, which is made once. */
export function smallScene(scene: Scene): Scene {
  const { raster, reduction } = (scene.known.small ??= smallCopy(scene.original));
  return { ...scene, raster, reduction };
}

/** The scene at so many halvings of the original. */
export function sceneAt(scene: Scene, reduction: number): Scene {
  const { known, original } = scene;
  if (scene.reduction === reduction) return scene;
  if (scene.reduction < reduction && scene.reduction > 0)
    return halvedScene(scene, reduction - scene.reduction);
  const small = known.small;
  if (small && small.reduction <= reduction)
    return halvedScene({ ...scene, ...small }, reduction - small.reduction);
  return halvedScene({ ...scene, raster: original, reduction: 0 }, reduction);
}
