import type { Raster, Rect } from '../../raster/raster';
import { clipRect, growRect, overlapRect } from '../../raster/raster';
import { shapeInto, shapeMargin, type Shaping } from '../edge/shape';
import { eachCovered } from './limits';
import { Insides, isRim, leanOf, RIM_MARGIN_PX } from './rim';
import { BACKGROUND, RimMix, rimMarginAt } from './rim-mix';
import type { Placed } from './strokes';

/** What a brush of full strength makes of an edge. */
const SOFTER_PX = 6;
const FIRMNESS = 0.9;

function shapingOf(does: 'softer' | 'firmer', reduction: number): Shaping {
  const unit = 1 / (1 << reduction);
  const plain: Shaping = { offsetPx: 0, softnessPx: 0, evenness: 0, firmness: 0, evenPx: 0 };
  return does === 'softer' ? { ...plain, softnessPx: SOFTER_PX * unit } : { ...plain, firmness: FIRMNESS };
}

/** How far around a part the edge must be known to be painted on. */
function edgeBrushMargin(strokes: readonly Placed[], rect: Rect, reduction: number): number {
  const near = strokes.filter(({ footprint }) => overlapRect(footprint.box, rect));
  return Math.max(
    0,
    ...near.map(({ stroke: { does } }) =>
      does === 'softer' || does === 'firmer'
        ? shapeMargin(shapingOf(does, reduction))
        : Math.max(RIM_MARGIN_PX, rimMarginAt(reduction)),
    ),
  );
}

/**
 * Edges painted firmer, softer or freer of spill, in the part `rect`, into `out`. `wide` holds the part `around`, as it is
 * before. Every brush reads the edge as it was before all of them; where several lie one over the other the later one counts by
 * as much as it covers.
 */
export function edgeBrushesInto(
  strokes: readonly Placed[],
  wide: Raster,
  around: Rect,
  rect: Rect,
  out: Raster,
  picture: Raster,
  reduction: number,
): void {
  const shaped = new Map<string, Raster>();
  for (const { stroke, footprint } of strokes) {
    if (stroke.kind !== 'edge' || !overlapRect(footprint.box, rect)) continue;
    const strength = stroke.strength / 100;
    const { does } = stroke;
    if (does === 'spill') {
      const lessSpill = spillRemover(wide, around, picture, reduction);
      eachCovered(footprint, rect, picture, (i, cover) =>
        lessSpill(
          rect.x + (i % rect.width),
          rect.y + Math.floor(i / rect.width),
          out.data,
          i * 4,
          strength * cover,
        ),
      );
      continue;
    }
    let made = shaped.get(does);
    if (!made) {
      made = { ...out, data: new Uint8Array(out.data.length) };
      shapeInto(wide, around, rect, made, shapingOf(does, reduction));
      shaped.set(does, made);
    }
    const from = made.data;
    eachCovered(footprint, rect, picture, (i, cover) => {
      const p = i * 4;
      const share = strength * cover;
      const before = out.data[p + 3]!;
      const alpha = Math.round(before + share * (from[p + 3]! - before));
      if (before === 0 && alpha > 0) out.data.set(from.subarray(p, p + 3), p);
      out.data[p + 3] = alpha;
    });
  }
}

/** Takes what a rim's color leans to the old background out of it, a share of that. */
function spillRemover(wide: Raster, around: Rect, picture: Raster, reduction: number) {
  const insides = new Insides(wide);
  const sure = new Uint8Array(wide.width * wide.height);
  for (let i = 0; i < sure.length; i++) if (wide.data[i * 4 + 3] === 0) sure[i] = BACKGROUND;
  const mix = new RimMix(sure, around, picture, wide, around, reduction);
  return (x: number, y: number, data: Uint8Array, p: number, share: number): void => {
    const [u, v] = [x - around.x, y - around.y];
    if (!isRim(wide, u, v)) return;
    const inside = insides.colorAt(u, v);
    const background = inside && mix.backgroundAt(x, y);
    if (!inside || !background) return;
    const lean =
      share * leanOf({ red: data[p]!, green: data[p + 1]!, blue: data[p + 2]! }, inside, background);
    if (lean === 0) return;
    const freed = (own: number, from: number, to: number) =>
      Math.min(255, Math.max(0, Math.round(own - lean * (to - from))));
    data[p] = freed(data[p]!, inside.red, background.red);
    data[p + 1] = freed(data[p + 1]!, inside.green, background.green);
    data[p + 2] = freed(data[p + 2]!, inside.blue, background.blue);
  };
}

/** A part and what must be known around it, within the picture. */
export function aroundEdges(
  strokes: readonly Placed[],
  rect: Rect,
  { width, height }: { readonly width: number; readonly height: number },
  reduction: number,
): Rect {
  return clipRect(growRect(rect, edgeBrushMargin(strokes, rect, reduction)), width, height);
}
