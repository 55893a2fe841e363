import { sineAndCosineOfDegrees } from '../numeric/exact';
import type { Point } from '../numeric/matrix3';
import { PLACE, WIDTH, type Anchor, type Placement } from './settings';

/** A ground as placing sees it: its size in its unit, and the line for a signature where one was found on it. */
export interface Surface {
  readonly width: number;
  readonly height: number;
  readonly line: SignatureLine | null;
}

/** A line that is meant for a signature, in the ground's unit from its upper left corner. */
export interface SignatureLine {
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

/** Where a piece lies before it is turned about its center, in the ground's unit from its upper left corner. */
export interface PlacedBox {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

type Held = Pick<Placement, 'anchor' | 'x' | 'y' | 'width'>;

/** Where a piece lies on a ground that has no line although it is to lie on one: as people sign. */
const WITHOUT_LINE = { anchor: 'bottom-right', x: 20, y: 40 } as const;

/** The anchor that is used: one of the nine where there is no line. */
export function anchorOn({ line }: Surface, anchor: Anchor): Anchor {
  return anchor === 'line' && !line ? WITHOUT_LINE.anchor : anchor;
}

/** The box of a piece whose height is `aspect` times its width. */
export function boxOf(held: Held, aspect: number, surface: Surface): PlacedBox {
  const { width } = held;
  const height = width * aspect;
  const { line } = surface;
  if (held.anchor === 'line' && line)
    return { x: line.x + held.x, y: line.y - held.y - height, width, height };
  const { anchor, x, y } = held.anchor === 'line' ? { ...held, ...WITHOUT_LINE } : held;
  return {
    x: startAt(sideOf(anchor, 'left', 'right'), x, width, surface.width),
    y: startAt(sideOf(anchor, 'top', 'bottom'), y, height, surface.height),
    width,
    height,
  };
}

/** The placement's `x`, `y` and `width` that put its piece into a box, by the anchor it has. */
export function heldAt(box: PlacedBox, anchor: Anchor, surface: Surface): Held {
  const width = clamp(box.width, WIDTH);
  const own = anchorOn(surface, anchor);
  const { line } = surface;
  const at =
    own === 'line' && line
      ? { x: box.x - line.x, y: line.y - box.y - box.height }
      : {
          x: farFrom(sideOf(own, 'left', 'right'), box.x, box.width, surface.width),
          y: farFrom(sideOf(own, 'top', 'bottom'), box.y, box.height, surface.height),
        };
  return {
    anchor: own,
    x: rounded(clamp(at.x, PLACE)),
    y: rounded(clamp(at.y, PLACE)),
    width: rounded(width),
  };
}

/** Another anchor for a piece that stays where it is. */
export function anchoredAt(held: Held, anchor: Anchor, aspect: number, surface: Surface): Held {
  return heldAt(boxOf(held, aspect, surface), anchor, surface);
}

type Side = 'near' | 'middle' | 'far';

function sideOf(anchor: Anchor, near: string, far: string): Side {
  const parts = anchor.split('-');
  return parts.includes(near) ? 'near' : parts.includes(far) ? 'far' : 'middle';
}

/** Where a box begins along an axis that lies so far from its anchor. */
function startAt(side: Side, far: number, size: number, whole: number): number {
  if (side === 'near') return far;
  return side === 'far' ? whole - size - far : (whole - size) / 2 + far;
}

/** The other way round. */
function farFrom(side: Side, start: number, size: number, whole: number): number {
  if (side === 'near') return start;
  return side === 'far' ? whole - size - start : start - (whole - size) / 2;
}

/** The corners of a box that is turned clockwise about its center: upper left, upper right, lower right, lower left. */
export function cornersOf({ x, y, width, height }: PlacedBox, angleDeg: number): readonly Point[] {
  const { sine, cosine } = turnOf(angleDeg);
  const middle = { x: x + width / 2, y: y + height / 2 };
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([across, down]) => {
    const u = (across! * width) / 2;
    const v = (down! * height) / 2;
    return { x: middle.x + u * cosine - v * sine, y: middle.y + u * sine + v * cosine };
  });
}

/** Sine and cosine of an angle of -180 to 180 degrees. */
export function turnOf(angleDeg: number): { readonly sine: number; readonly cosine: number } {
  if (angleDeg >= -90 && angleDeg <= 90) return sineAndCosineOfDegrees(angleDeg);
  const { sine, cosine } = sineAndCosineOfDegrees(angleDeg > 0 ? angleDeg - 180 : angleDeg + 180);
  return { sine: -sine, cosine: -cosine };
}

/** A place that a box catches at while it is dragged, and along which axis. */
export interface Catch {
  readonly axis: 'x' | 'y';
  /** In the ground's unit. */
  readonly at: number;
}

/** Margins at which a piece catches, as a share of the ground's shorter side. */
const MARGIN_SHARE = 0.08;

/**
 * A box moved to what is near it: the ground's edges, margins and middle lines, and, where there is one, the line for a
 * signature. `near` is how far it may be moved, in the ground's unit.
 */
export function snapped(
  box: PlacedBox,
  surface: Surface,
  near: number,
): { readonly box: PlacedBox; readonly caught: readonly Catch[] } {
  const margin = MARGIN_SHARE * Math.min(surface.width, surface.height);
  const { line } = surface;
  const beginning = line && { start: line.x, guide: line.x };
  const bottom = line && { start: line.y - box.height, guide: line.y };
  const across = caughtAt(box.x, box.width, surface.width, margin, near, beginning);
  const down = caughtAt(box.y, box.height, surface.height, margin, near, bottom);
  const caught: Catch[] = [];
  if (across) caught.push({ axis: 'x', at: across.guide });
  if (down) caught.push({ axis: 'y', at: down.guide });
  return { box: { ...box, x: across?.start ?? box.x, y: down?.start ?? box.y }, caught };
}

/** Where a box begins that lies at a guide, and where that is. */
interface Guide {
  readonly start: number;
  readonly guide: number;
}

function caughtAt(
  start: number,
  size: number,
  whole: number,
  margin: number,
  near: number,
  line: Guide | null,
): Guide | null {
  const places = [
    { start: 0, guide: 0 },
    { start: margin, guide: margin },
    { start: (whole - size) / 2, guide: whole / 2 },
    { start: whole - margin - size, guide: whole - margin },
    { start: whole - size, guide: whole },
    ...(line ? [line] : []),
  ];
  const nearest = places.reduce((best, one) =>
    Math.abs(one.start - start) < Math.abs(best.start - start) ? one : best,
  );
  return Math.abs(nearest.start - start) <= near ? nearest : null;
}

function clamp(value: number, { min, max }: { readonly min: number; readonly max: number }): number {
  return Math.min(max, Math.max(min, value));
}

/** Thousandths are finer than any printer. */
function rounded(value: number): number {
  return Math.round(value * 1000) / 1000;
}

/** A corner of a box: which way it lies from the middle, across and down. */
export interface Corner {
  readonly across: -1 | 1;
  readonly down: -1 | 1;
}

/**
 * The box that a corner makes when it is pulled to a place, its shape and its opposite corner kept where it is turned. The width
 * is at least `leastWidth`.
 */
export function pulledTo(
  box: PlacedBox,
  angleDeg: number,
  { across, down }: Corner,
  to: Point,
  leastWidth: number,
): PlacedBox {
  const { sine, cosine } = turnOf(angleDeg);
  const aspect = box.height / box.width;
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  const turned = (u: number, v: number) => ({ x: u * cosine - v * sine, y: u * sine + v * cosine });
  const far = turned((-across * box.width) / 2, (-down * box.height) / 2);
  const fixed = { x: middle.x + far.x, y: middle.y + far.y };
  // How far along the diagonal of a box one unit wide.
  const diagonal = turned(across, down * aspect);
  const along = (to.x - fixed.x) * diagonal.x + (to.y - fixed.y) * diagonal.y;
  const width = Math.max(leastWidth, along / (1 + aspect * aspect));
  const half = turned((across * width) / 2, (down * width * aspect) / 2);
  return {
    x: fixed.x + half.x - width / 2,
    y: fixed.y + half.y - (width * aspect) / 2,
    width,
    height: width * aspect,
  };
}
