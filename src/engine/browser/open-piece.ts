import { checkKey, pixelKey } from '../../core/cut/keys';
import type { Cut } from '../../core/cut/schema';
import type { KeptDecisions } from '../../core/decision/kept-decisions';
import type { Helpers } from '../../core/helpers';
import { runToEnd } from '../../core/numeric/steps';
import { unpackCutout } from '../../core/packed-cutout';
import type { Raster } from '../../core/raster/raster';
import type { Cutout } from '../../core/render';
import { prepareKey, type Source } from '../../core/stages/prepare/prepare';
import type { ShowRequest } from '../protocol';
import { Drafts, sizedBoardSteps, type SizedBoard } from './board';
import type { Finished } from './layers';

/** A request with what tells its cut from others, made once. */
export interface Shown {
  readonly request: ShowRequest;
  /** Equal for cuts of the same pixels. */
  readonly pixels: string;
  /** Equal for cuts in which the checks find the same. */
  readonly checks: string;
  /** Equal for cuts that prepare the picture the same. */
  readonly prepared: string;
}

/** A full-size cutout that was made before the piece was opened, packed beside the picture after Prepare. */
export interface Known {
  readonly cut: Cut;
  readonly packed: Uint8Array;
}

/** The piece that is open: its original, the board that is worked on, and the last full-size cutout. */
export class OpenPiece {
  readonly source: Source;
  readonly drafts: Drafts;
  board: SizedBoard | null = null;
  private last: Finished | null = null;
  /** What was known before, until it is shown. */
  private packed: { readonly key: string; readonly bytes: Uint8Array } | null;
  /** Cutouts that can be shown again as long as the board keeps them. */
  private readonly recent = new Map<string, Cutout>();

  constructor(
    readonly original: Raster,
    helpers: Helpers | null,
    known: Known | null = null,
    decisions: KeptDecisions | null = null,
  ) {
    this.source = { original, helpers, decisions };
    this.drafts = new Drafts(this.source);
    this.packed = known && { key: pixelKey(known.cut), bytes: known.packed };
  }

  shown(request: ShowRequest, before: Shown | null): Shown {
    const { cut } = request;
    if (before?.request.cut === cut) return { ...before, request };
    return {
      request,
      pixels: pixelKey(cut),
      checks: checkKey(cut),
      prepared: prepareKey(cut, this.original),
    };
  }

  /** The board that a cut is prepared on; null while its picture is not prepared yet. */
  boardOf({ request: { cut }, prepared }: Pick<Shown, 'request' | 'prepared'>): SizedBoard | null {
    // What is not prepared needs no time.
    if (this.board?.key !== prepared && prepared === '')
      this.board = runToEnd(sizedBoardSteps(this.source, cut));
    return this.board?.key === prepared ? this.board : null;
  }

  /** The same, prepared now if need be. */
  boardNow(cut: Cut): SizedBoard {
    if (this.board?.key === prepareKey(cut, this.original)) return this.board;
    return (this.board = runToEnd(sizedBoardSteps(this.source, cut)));
  }

  /** The full-size cutout of what is shown, where it was made and is kept; null elsewhere. */
  finishedOf({ pixels, prepared }: Shown): Finished | null {
    if (this.last?.key === pixels) return this.last;
    if (this.packed?.key === pixels && this.board?.key === prepared)
      return this.unpacked(this.packed.bytes, pixels, this.board);
    const cutout = this.recent.get(pixels);
    if (!cutout) return null;
    if (this.board?.kept.holds(cutout.raster)) return (this.last = finishedBy(pixels, cutout));
    this.recent.delete(pixels);
    return null;
  }

  /** What was made before; null where it is not of this picture after all. */
  private unpacked(bytes: Uint8Array, pixels: string, { scene, window }: SizedBoard): Finished | null {
    this.packed = null;
    try {
      return this.finish(pixels, unpackCutout(bytes, scene.raster, window));
    } catch {
      return null;
    }
  }

  /** Notes the full-size cutout of cuts with that key. */
  finish(key: string, cutout: Cutout): Finished {
    for (const [other, { raster }] of this.recent)
      if (!this.board?.kept.holds(raster)) this.recent.delete(other);
    this.recent.set(key, cutout);
    return (this.last = finishedBy(key, cutout));
  }
}

function finishedBy(key: string, cutout: Cutout): Finished {
  return { key, cutout, sizes: [cutout.raster] };
}
