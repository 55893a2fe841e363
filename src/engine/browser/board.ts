import { boardSteps, type Board } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { halve, halvingsTo, reduceRect } from '../../core/raster/reduce';
import { clipRect, wholeOf, type Raster } from '../../core/raster/raster';
import { runToEnd, type Steps } from '../../core/numeric/steps';
import { Kept } from '../../core/stages/kept';
import { halvedScene, type Scene } from '../../core/scene/scene';
import { frameOf, type Frame } from '../../core/stages/prepare/frame';
import { developed, type Source } from '../../core/stages/prepare/prepare';

export interface Size {
  readonly scene: Scene;
  readonly kept: Kept;
}

/** A board at all its sizes. */
export interface SizedBoard extends Board {
  /** The work area at every number of halvings down to a small one, full size first. */
  readonly sizes: readonly Size[];
}

/** Makes the board of a cut with all its sizes, in steps. */
export function* sizedBoardSteps(source: Source, cut: Cut): Steps<SizedBoard> {
  const board = yield* boardSteps(source, cut);
  const sizes: Size[] = [board];
  for (;;) {
    const { scene } = sizes.at(-1)!;
    const { width, height } = scene.raster;
    if (width * height <= 40_000 || width < 2 || height < 2) return { ...board, sizes };
    const half = halvedScene(scene);
    sizes.push({ scene: half, kept: Kept.ofReduced(half.raster) });
  }
}

/** Pixels of a prepared picture that is made at once, while a setting of Prepare moves. */
const DRAFT_PIXELS = 360_000;

/** A prepared picture at a reduced size, its pixel (0, 0) lying at (`x`, `y`) of the crop at that reduction. */
export interface Draft {
  readonly raster: Raster;
  readonly reduction: number;
  readonly x: number;
  readonly y: number;
  readonly frame: Frame;
}

/** Makes prepared pictures at once, from reduced originals that are kept. */
export class Drafts {
  private readonly originals: Raster[];
  private last: { readonly key: string; readonly draft: Draft } | null = null;

  constructor(private readonly source: Source) {
    this.originals = [source.original];
  }

  /** The crop of a cut after Prepare, at least as coarse as `reduction`. */
  of(cut: Cut, reduction: number): Draft {
    const { width, height } = this.source.original;
    const frame = frameOf(cut.prepare, width, height);
    const halvings = Math.max(reduction, halvingsTo(DRAFT_PIXELS, frame.crop.width, frame.crop.height));
    const key = JSON.stringify([cut.prepare, halvings]);
    if (this.last?.key === key) return this.last.draft;
    while (this.originals.length <= halvings) this.originals.push(halve(this.originals.at(-1)!));
    const whole = reduceRect(wholeOf(frame), halvings);
    const rect = clipRect(reduceRect(frame.crop, halvings), whole.width, whole.height);
    const raster = runToEnd(
      developed(this.source, cut.prepare, frame, rect, halvings, this.originals[halvings]),
    );
    const unit = 1 << halvings;
    const draft = {
      raster,
      reduction: halvings,
      x: rect.x - frame.crop.x / unit,
      y: rect.y - frame.crop.y / unit,
      frame,
    };
    this.last = { key, draft };
    return draft;
  }
}
