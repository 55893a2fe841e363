import { placedOn } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { apply } from '../../core/numeric/matrix3';
import { runToEnd, type Steps } from '../../core/numeric/steps';
import { clipRect, type Raster, type Rect } from '../../core/raster/raster';
import { edgePart, reachMaps, renderPart } from '../../core/render';
import { PLACE_PX } from '../../core/stages/shapes';
import type { HandStroke } from '../../core/stages/touch-up/settings';
import { gainedBy } from '../../core/stages/touch-up/led';
import { clippedPart } from '../../core/stages/clear/by-ink/by-ink';
import { composeInto, visiblePart, type Ground, type Layer, type View } from '../../core/view/compose';
import { differenceOf } from '../../core/view/difference';
import { hatchInto } from '../../core/view/hatch';
import type { Look, ShowRequest } from '../protocol';
import type { Size, SizedBoard } from './board';
import type { EngineHost } from './engine-host';
import {
  BLACK,
  cornerOf,
  draftReductionFor,
  inWhite,
  layerAt,
  pixelsIn,
  reductionFor,
  sizeOfFinished,
  STRETCHED,
  viewOn,
  viewReductionOf,
} from './layers';
import type { OpenPiece, Shown } from './open-piece';

/** A draft that is expected to take longer is made coarser by one halving; at full size more is allowed. */
const SLOW_MS = 45;
const SLOW_EXACT_MS = 90;

/** Parts of the original larger than this are not made at full size while a setting moves. */
const MOST_EXACT = 600_000;

/** Smaller parts tell little of what a pixel costs. */
const LEAST_PIXELS = 40_000;

/** How fast the memory of a slow draft fades, from one draft to the next. */
const FADE = 0.9;

/** A request and the board it is painted on. */
interface Painting {
  readonly request: ShowRequest;
  readonly on: SizedBoard;
  readonly out: Uint8ClampedArray;
}

/** What of the screen must be painted again; all of it where nothing is known. */
type Changed = Rect | null;

/** How a layer is painted. */
type Paint = (layer: Layer, painting: Painting) => void;

const plainly: Paint = (layer, { request: { view, ground }, out }) => composeInto(layer, view, ground, out);

const asAlpha =
  (table: Uint8Array | null): Paint =>
  (layer, { request: { view, ground }, out }) =>
    composeInto(inWhite(layer, view, table), view, { ...ground, ...BLACK }, out);

/** What the sheet shows by each look: of the picture before anything was cleared or of the result, and how. */
const LOOKS: Readonly<Record<Look, { readonly isBefore: boolean; readonly paint: Paint }>> = {
  result: { isBefore: false, paint: plainly },
  original: { isBefore: true, paint: plainly },
  prepared: { isBefore: true, paint: plainly },
  levels: {
    isBefore: true,
    paint(layer, painting) {
      plainly(layer, painting);
      hatchClipped(layer, painting);
    },
  },
  alpha: { isBefore: false, paint: asAlpha(null) },
  faint: { isBefore: false, paint: asAlpha(STRETCHED) },
  edge: {
    isBefore: false,
    paint(layer, painting) {
      plainly(layer, painting);
      hatchCertain(layer, painting);
    },
  },
  difference: {
    isBefore: false,
    paint: (layer, painting) => plainly(takenFrom(painting.on, layer), painting),
  },
};

/** Paints the sheet. */
export class Painter {
  private pixels = new Uint8ClampedArray(0);
  private other = new Uint8ClampedArray(0);
  /** What was painted last, and on which picture. */
  private last: { readonly shown: Shown; readonly picture: Raster | undefined } | null = null;
  /** What drafts cost lately, in milliseconds a pixel. */
  private cost = 0;
  private backing: { readonly address: string; readonly picture: Raster | null } | null = null;

  /** `repaint` is called when something came that was missing. */
  constructor(
    private readonly piece: OpenPiece,
    private readonly host: EngineHost,
    private readonly repaint: () => void,
  ) {}

  /** Paints what is wanted and shows it. */
  paint(shown: Shown): void {
    const { view, turn, compare, backing } = shown.request;
    const length = view.width * view.height * 4;
    if (this.pixels.length !== length) this.pixels = new Uint8ClampedArray(length);
    const { pixels } = this;
    const own = { ...shown.request, ground: { ...shown.request.ground, ...this.pictureOf(backing) } };
    const { picture } = own.ground;
    const changed = this.changedSince(shown, picture);
    // What stands there without a board is only a draft of the picture.
    this.last = this.piece.boardOf(shown) && { shown, picture };
    let exact: boolean;
    if (!compare) exact = this.paintInto(shown, own, pixels, changed);
    else {
      if (this.other.length !== length) this.other = new Uint8ClampedArray(length);
      const { other } = this;
      // Side by side both halves have the same view, of half the width.
      exact = this.paintInto(shown, own, compare.beside ? other : pixels);
      if (compare.beside) putColumns(other, 0, pixels, compare.at, view.width - compare.at, view);
      this.paintInto(shown, { ...own, look: 'original' }, other);
      putColumns(other, 0, pixels, 0, compare.at, view);
    }
    this.host.paint(pixels, view.width, view.height, changed);
    this.host.tell({ kind: 'painted', turn, exact });
  }

  /** What of the sheet looks another way than what was painted last, while a brush is led over it. */
  private changedSince(shown: Shown, picture: Raster | undefined): Changed {
    const before = this.last?.shown.request;
    const { request } = shown;
    const on = this.piece.boardOf(shown);
    if (!before || !on || this.last?.shown.prepared !== shown.prepared) return null;
    const isSame =
      this.last.picture === picture &&
      request.look === 'result' &&
      before.look === 'result' &&
      !request.compare &&
      !before.compare &&
      JSON.stringify([request.view, request.ground, request.backing]) ===
        JSON.stringify([before.view, before.ground, before.backing]);
    // A whole cutout is finer than what was painted while the brush was led.
    const gained = isSame && !this.piece.finishedOf(shown) ? gainedBy(before.cut, request.cut) : null;
    return gained && onScreen(gained, on, request.view);
  }

  /**
   * Draws once what a moved setting or a stroke would draw, for nobody: the first one then finds its maps made, the layers
   * before it kept, and its code warm. Costs are noted only of what somebody waits for.
   */
  *warmUp({ request: { cut, view } }: Shown, on: SizedBoard): Steps<void> {
    const { sizes } = on;
    const used = Math.max(draftReductionFor(view.scale, sizes.length), viewReductionOf(on));
    const { scene, kept } = sizes[used]!;
    const placed = placedOn(on, cut);
    yield* reachMaps(scene, placed, kept.maps);
    const { touchUp } = placed;
    const stroked = { ...touchUp, on: true, strokes: [...touchUp.strokes, ELSEWHERE] };
    yield { doing: 'warming up', done: 1, total: 2 };
    renderPart(scene, { ...placed, touchUp: stroked }, kept, visiblePart(viewOn(on, view), used));
  }

  /** The layer of the result around a pixel at full size, or as near to it as can be made at once. */
  layerAround(on: SizedBoard, shown: Shown, view: View): Layer {
    const { sizes, window } = on;
    const whole = { wholeWidth: window.width, wholeHeight: window.height };
    const finished = this.piece.finishedOf(shown);
    if (finished) return { raster: finished.cutout.raster, x: 0, y: 0, reduction: 0, ...whole };
    const placed = placedOn(on, shown.request.cut);
    for (const reduction of [0, viewReductionOf(on)]) {
      const { scene, kept } = sizes[reduction]!;
      const part = visiblePart(viewOn(on, view), reduction);
      const raster = renderPart(scene, placed, kept, part);
      if (raster) return layerAt(on, raster, cornerOf(part), reduction);
    }
    return layerAt(on, sizes[0]!.scene.raster, { x: 0, y: 0 }, 0);
  }

  /** Paints what a request wants to see without comparing it; says whether it is exact. */
  private paintInto(
    shown: Shown,
    request: ShowRequest,
    out: Uint8ClampedArray,
    changed: Changed = null,
  ): boolean {
    const { view, ground, look } = request;
    const on = this.piece.boardOf(shown);
    if (!on) {
      const { frame, ...draft } = this.piece.drafts.of(request.cut, reductionFor(view.scale, 20));
      const { width, height } = frame.crop;
      composeInto({ ...draft, wholeWidth: width, wholeHeight: height }, view, ground, out);
      return false;
    }
    const { isBefore, paint } = LOOKS[look];
    // A brush that is led is followed at one size; only what it changes is drawn again.
    const { layer, exact } = isBefore
      ? layerBefore(on, view)
      : this.layerOf(shown, on, view, changed !== null);
    if (changed) composeInto(layer, view, ground, out, changed);
    else paint(layer, { request, on, out });
    return exact;
  }

  private layerOf(
    shown: Shown,
    on: SizedBoard,
    view: View,
    keepsSize: boolean,
  ): { layer: Layer; exact: boolean } {
    const { sizes, window } = on;
    const whole = { wholeWidth: window.width, wholeHeight: window.height };
    const reduction = reductionFor(view.scale, sizes.length);
    const finished = this.piece.finishedOf(shown);
    if (finished) {
      const raster = sizeOfFinished(finished, reduction);
      return { layer: { raster, x: 0, y: 0, reduction, ...whole }, exact: true };
    }
    const cut = placedOn(on, shown.request.cut);
    const seenAs = viewOn(on, view);
    const full = sizes[0]!;
    const seen = visiblePart(seenAs, 0);
    const seenPixels = pixelsIn(full.scene, seen);
    if (reduction === 0 && seenPixels <= MOST_EXACT && seenPixels * this.cost <= SLOW_EXACT_MS) {
      const raster = this.drafted(full, cut, seen);
      if (raster) return { layer: layerAt(on, raster, cornerOf(seen), 0), exact: true };
    }
    const fitting = Math.max(draftReductionFor(view.scale, sizes.length), viewReductionOf(on));
    const slow = pixelsIn(sizes[fitting]!.scene, visiblePart(seenAs, fitting)) * this.cost > SLOW_MS;
    const used = Math.min(sizes.length - 1, fitting + (slow && !keepsSize ? 1 : 0));
    const size = sizes[used]!;
    runToEnd(reachMaps(size.scene, cut, size.kept.maps));
    const part = visiblePart(seenAs, used);
    const raster = this.drafted(size, cut, part)!;
    return { layer: layerAt(on, raster, cornerOf(part), used), exact: used === 0 };
  }

  /** A part of the result, made at once; null while a reach map is missing. Notes what it cost. */
  private drafted({ scene, kept }: Size, cut: Cut, part: Rect): Raster | null {
    const start = this.host.now();
    const raster = renderPart(scene, cut, kept, part);
    if (raster) {
      const pixels = Math.max(LEAST_PIXELS, pixelsIn(scene, part));
      this.cost = Math.max(FADE * this.cost, (this.host.now() - start) / pixels);
    }
    return raster;
  }

  /** The picture of a backing, as soon as it is loaded; the sheet is painted again then. */
  private pictureOf(addresses: readonly string[] | null): Pick<Ground, 'picture'> {
    const address = addresses?.[0];
    if (!addresses || !address) return {};
    if (this.backing?.address !== address) {
      this.backing = { address, picture: null };
      void this.host.loadBacking(addresses).then((picture) => {
        if (this.backing?.address !== address) return;
        this.backing = { address, picture };
        this.repaint();
      });
    }
    return this.backing.picture ? { picture: this.backing.picture } : {};
  }
}

/** Where a part of the original lies on the screen, all of its pixels and those that are mixed with them. */
function onScreen({ x, y, width, height }: Rect, { frame, window, work }: SizedBoard, view: View): Rect {
  const corners = [
    [x, y],
    [x + width, y],
    [x, y + height],
    [x + width, y + height],
  ] as const;
  const places = corners.map(([u, v]) => {
    const at = apply(frame.toFrame, u, v);
    return {
      x: (at.x - work.x - window.x) * view.scale + view.left,
      y: (at.y - work.y - window.y) * view.scale + view.top,
    };
  });
  const far = MIXED_PX + view.scale;
  const left = Math.floor(Math.min(...places.map((at) => at.x)) - far);
  const top = Math.floor(Math.min(...places.map((at) => at.y)) - far);
  const right = Math.ceil(Math.max(...places.map((at) => at.x)) + far);
  const bottom = Math.ceil(Math.max(...places.map((at) => at.y)) + far);
  return clipRect({ x: left, y: top, width: right - left, height: bottom - top }, view.width, view.height);
}

/** A stroke that changes nothing. */
const ELSEWHERE: HandStroke = {
  kind: 'brush',
  does: 'clear',
  radiusPx: 1,
  softness: 0,
  strength: 100,
  pressure: 'none',
  alike: null,
  path: `${PLACE_PX.min},${PLACE_PX.min}`,
};

/** How many screen pixels beside its own a pixel of a draft is mixed into at most. */
const MIXED_PX = 6;

/** The prepared picture as it is cleared from. */
function layerBefore(on: SizedBoard, view: View): { layer: Layer; exact: boolean } {
  const reduction = reductionFor(view.scale, on.sizes.length);
  const { raster } = on.sizes[reduction]!.scene;
  return { layer: layerAt(on, raster, { x: 0, y: 0 }, reduction), exact: true };
}

/** What a layer of the result lacks of the prepared picture. */
function takenFrom({ sizes, window }: SizedBoard, layer: Layer): Layer {
  const { raster } = sizes[Math.min(sizes.length - 1, layer.reduction)]!.scene;
  const unit = 1 << layer.reduction;
  const at = (start: number, shift: number) => Math.round(start + shift / unit);
  return {
    ...layer,
    raster: differenceOf(raster, layer.raster, at(layer.x, window.x), at(layer.y, window.y)),
  };
}

/** Hatches over what is certain at a size whose result is shown already. */
function hatchCertain({ reduction }: Layer, { request, on, out }: Painting): void {
  const { scene, kept } = on.sizes[reduction]!;
  const placed = placedOn(on, request.cut);
  runToEnd(reachMaps(scene, placed, kept.maps));
  const part = seenPart(on, request.view, reduction);
  const marks = edgePart(scene, placed, kept, part);
  if (marks) hatchInto({ marks, part, reduction }, viewOn(on, request.view), request.ground, out);
}

/** Hatches over what the levels clip to full ink and to bare paper. */
function hatchClipped({ reduction }: Layer, { request, on, out }: Painting): void {
  const part = seenPart(on, request.view, reduction);
  const marks = clippedPart(on.sizes[reduction]!.scene.raster, request.cut, part);
  if (marks) hatchInto({ marks, part, reduction }, viewOn(on, request.view), request.ground, out);
}

/** The part of a board at some reduction that a view shows. */
function seenPart(on: SizedBoard, view: View, reduction: number): Rect {
  const { width, height } = on.sizes[reduction]!.scene.raster;
  return clipRect(visiblePart(viewOn(on, view), reduction), width, height);
}

/** Copies columns of one painted view into another: `count` of them from `from` to `to`. */
function putColumns(
  source: Uint8ClampedArray,
  from: number,
  target: Uint8ClampedArray,
  to: number,
  count: number,
  { width, height }: View,
): void {
  for (let y = 0; y < height; y++) {
    const start = (y * width + from) * 4;
    target.set(source.subarray(start, start + count * 4), (y * width + to) * 4);
  }
}
