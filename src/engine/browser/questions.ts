import { placedOn } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import { apply, type Point } from '../../core/numeric/matrix3';
import { copyPixels, createRaster, type Raster, type Rect } from '../../core/raster/raster';
import { smallCopy } from '../../core/raster/reduce';
import { renderPart } from '../../core/render';
import { reachOfSample } from '../../core/stages/clear/clear';
import type { Sample } from '../../core/stages/clear/settings';
import { startingTolerance, toleranceCurve } from '../../core/stages/clear/tolerance-curve';
import { uncropped } from '../../core/stages/prepare/prepare';
import { findSheet, type SheetCorners } from '../../core/stages/prepare/sheet';
import { findStraightening, type Straightening } from '../../core/stages/prepare/straighten';
import { borderPath } from '../../core/stages/touch-up/border-path';
import { lineEndsOf, type LineEnds } from '../../core/stages/touch-up/line-ends';
import type { PathPlace } from '../../core/stages/touch-up/path';
import type { HandStroke } from '../../core/stages/touch-up/settings';
import { alikeOf, placed } from '../../core/stages/touch-up/strokes';
import { simplified } from '../../core/stages/touch-up/simplify';
import { composeInto, type Layer, type View } from '../../core/view/compose';
import { contrastingBacking } from '../../core/view/contrasting';
import type { AlikeUnder, Magnified, Probe, SampleStart } from '../protocol';
import type { SizedBoard } from './board';
import { layerAt, viewReductionOf } from './layers';
import type { OpenPiece, Shown } from './open-piece';
import type { Painter } from './painter';

/** What is asked about the piece and answered at once. `wanted` gives what is shown. */
export function questions(piece: OpenPiece, painter: Painter, wanted: () => Shown | null) {
  /** What is shown and the board it lies on, where the pixel does. */
  function at(x: number, y: number): { readonly shown: Shown; readonly on: SizedBoard } | null {
    const shown = wanted();
    const on = shown && piece.boardOf(shown);
    if (!shown || !on) return null;
    return x >= 0 && y >= 0 && x < on.window.width && y < on.window.height ? { shown, on } : null;
  }

  return {
    probe(x: number, y: number): Probe | null {
      const there = at(x, y);
      if (!there) return null;
      const { shown, on } = there;
      const { raster } = on.scene;
      const [u, v] = [x + on.window.x, y + on.window.y];
      const finished = piece.finishedOf(shown);
      const result = finished
        ? pixelAt(finished.cutout.raster, x, y)
        : (drafted(on, placedOn(on, shown.request.cut), u, v) ?? pixelAt(raster, u, v));
      return { original: pixelAt(raster, u, v), result };
    },
    /** A square of `side` screen pixels around a pixel, at `scale` screen pixels a pixel. Null outside of the picture. */
    magnify(x: number, y: number, scale: number, side: number): Magnified | null {
      const there = at(x, y);
      if (!there) return null;
      const { shown, on } = there;
      const start = (place: number) => Math.round(side / 2 - (place + 0.5) * scale);
      const view: View = { scale, left: start(x), top: start(y), width: side, height: side };
      const composed = (layer: Layer) => {
        const out = new Uint8ClampedArray(side * side * 4);
        composeInto(layer, view, shown.request.ground, out);
        return out;
      };
      return {
        side,
        original: composed(layerAt(on, on.scene.raster, { x: 0, y: 0 }, 0)),
        result: composed(painter.layerAround(on, shown, view)),
      };
    },
    startOf(sample: Sample, cut: Cut): SampleStart {
      const on = piece.boardNow({ ...cut, clear: { ...cut.clear, samples: [...cut.clear.samples, sample] } });
      const { scene, kept } = on.sizes[viewReductionOf(on)]!;
      const placed = placedOn(on, { ...cut, clear: { ...cut.clear, samples: [sample] } });
      const map = runToEnd(reachOfSample(scene, placed.clear.samples[0]!, placed, kept.maps));
      const { tolerance, safeRange } = startingTolerance(toleranceCurve(map));
      return { tolerance, safeRange };
    },
    /** How far the picture of a cut, squared up and turned, must be straightened. */
    straightening: ({ prepare }: Cut): Straightening =>
      findStraightening(
        uncropped(piece.source, { ...prepare, straightenDeg: 0, removeRules: false, calm: 0 }),
      ),
    /** The corners of a photographed sheet in pixels of the original; null where no outline is seen. */
    corners: (): SheetCorners | null => findSheet((piece.source.small ??= smallCopy(piece.original))),
    /**
     * The corners between two places of the original along a sharp border of the prepared picture, without those places.
     * Found at the size of the view.
     */
    borderBetween(from: Point, to: Point): readonly (readonly [number, number])[] {
      const shown = wanted();
      const on = shown && piece.boardOf(shown);
      if (!on) return [];
      const { scene } = on.sizes[viewReductionOf(on)]!;
      const unit = 1 << scene.reduction;
      const led = (place: Point): Point => {
        const { x, y } = apply(on.frame.toFrame, place.x, place.y);
        return { x: (x - on.work.x) / unit, y: (y - on.work.y) / unit };
      };
      const path = borderPath(scene.raster, led(from), led(to)).map(({ x, y }): PathPlace => {
        const at = apply(on.frame.toOriginal, (x + 0.5) * unit + on.work.x, (y + 0.5) * unit + on.work.y);
        return [Math.round(at.x * 10) / 10, Math.round(at.y * 10) / 10];
      });
      return simplified(path, 0.6 * unit)
        .slice(1, -1)
        .map(([x, y]) => [x, y] as const);
    },
    /** What a stroke would take of what is alike; null where nothing is prepared yet, or nothing lies under it. */
    alikeUnder(stroke: HandStroke): AlikeUnder | null {
      const shown = wanted();
      const on = shown && piece.boardOf(shown);
      if (!on) return null;
      const { cut } = shown.request;
      const { touchUp } = placedOn(on, { ...cut, touchUp: { ...cut.touchUp, strokes: [stroke] } });
      const { scene } = on.sizes[viewReductionOf(on)]!;
      const mask = alikeOf(scene, placed(stroke, touchUp.through, scene.reduction));
      if (!mask || mask.data.length === 0) return null;
      const unit = 1 << scene.reduction;
      const { rect, data } = mask;
      const taken = data.reduce((sum, value) => sum + value, 0);
      const [x, y] = [rect.x * unit - on.window.x, rect.y * unit - on.window.y];
      return { x, y, unit, width: rect.width, height: rect.height, data: data.slice(), taken };
    },
    /** Where a line of the full-size cutout ends on either side of a gap between two places of the original. */
    lineEnds(from: Point, to: Point): LineEnds | null {
      const shown = wanted();
      const on = shown && piece.boardOf(shown);
      const cutout = shown && piece.finishedOf(shown)?.cutout.raster;
      if (!on || !cutout) return null;
      const { frame, window, work } = on;
      const led = (place: Point): Point => {
        const { x, y } = apply(frame.toFrame, place.x, place.y);
        return { x: x - work.x - window.x, y: y - work.y - window.y };
      };
      const picture = createRaster(window.width, window.height);
      copyPixels(on.scene.raster, window, window, picture, { x: 0, y: 0 });
      const ends = lineEndsOf(cutout, picture, led(from), led(to));
      if (!ends) return null;
      const back = ({ x, y }: Point): Point =>
        apply(frame.toOriginal, x + work.x + window.x, y + work.y + window.y);
      return { ...ends, from: back(ends.from), to: back(ends.to) };
    },
    /** The backing from which a part of the cutout differs most along its edge; null while the full size is not made. */
    contrastAt(part: Rect): string | null {
      const shown = wanted();
      const there = shown && piece.finishedOf(shown);
      return there && contrastingBacking(there.cutout.raster, part);
    },
  };
}

/** A pixel of the result, as near to full size as can be made at once. */
function drafted(on: SizedBoard, cut: Cut, x: number, y: number): Probe['result'] | null {
  for (const reduction of [0, viewReductionOf(on)]) {
    const { scene, kept } = on.sizes[reduction]!;
    const part = renderPart(scene, cut, kept, { x: x >> reduction, y: y >> reduction, width: 1, height: 1 });
    if (part) return pixelAt(part, 0, 0);
  }
  return null;
}

function pixelAt({ data, width }: Raster, x: number, y: number): Probe['result'] {
  const p = (y * width + x) * 4;
  return [data[p]!, data[p + 1]!, data[p + 2]!, data[p + 3]!];
}
