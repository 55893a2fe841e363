import { placedOn } from '../../core/board';
import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import type { Raster, Rect } from '../../core/raster/raster';
import { smallCopy } from '../../core/raster/reduce';
import { renderPart } from '../../core/render';
import { reachOfSample } from '../../core/stages/clear/clear';
import type { Sample } from '../../core/stages/clear/settings';
import { startingTolerance, toleranceCurve } from '../../core/stages/clear/tolerance-curve';
import { uncropped } from '../../core/stages/prepare/prepare';
import { findSheet, type SheetCorners } from '../../core/stages/prepare/sheet';
import { findStraightening, type Straightening } from '../../core/stages/prepare/straighten';
import { composeInto, type Layer, type View } from '../../core/view/compose';
import { contrastingBacking } from '../../core/view/contrasting';
import type { Magnified, Probe, SampleStart } from '../protocol';
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
