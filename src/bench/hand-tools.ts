import { lengthOf } from '../core/numeric/exact';
import type { Point } from '../core/numeric/matrix3';
import { MOST_PLACES, textOfPath, type Corner, type PathPlace } from '../core/stages/touch-up/path';
import type { AlikeUnder } from '../engine/protocol';
import type { BrushStroke } from '../core/stages/touch-up/settings';
import { simplified } from '../core/stages/touch-up/simplify';
import type { BenchState, StoreParts } from './bench-state';
import { withinBrush } from './brush';
import type { HandActions } from './hand-actions';
import type { DragPhase, PointerTool } from './pointer-tool';
import { pixelAt, placeAt } from './under-pointer';

/** A brush goes on by this share of its radius before a place is added, and by half a pixel at least. */
const STEP_SHARE = 1 / 16;
const LEAST_STEP_PX = 0.5;

/** A finished stroke keeps this near to where it was led: a hundredth of its radius, but not less than a tenth of a pixel. */
const NEAR_SHARE = 0.01;
const LEAST_NEAR_PX = 0.1;

/** How far a hand that holds Shift must go before it is told whether it goes level or upright, in screen pixels. */
const DIRECTION_PX = 6;

/** A click this near to the first corner, or to the last one, closes the outline, in screen pixels. */
const CLOSE_PX = 9;

/** What the pointer does on the sheet while Touch up is open, by the tool in hand. */
export function handTools({ get, set, client }: StoreParts, hand: HandActions) {
  const at = (point: Point): PathPlace => placeAt(get(), point);
  const asPoint = ([x, y]: PathPlace): Point => ({ x, y });

  /** The places of the stroke that is led; while Shift is held the way it keeps to; while Alt is held where sizing began. */
  let places: PathPlace[] = [];
  /** The same as text, which grows with them. */
  let written = '';
  let straight: 'x' | 'y' | null = null;
  let sizing: { readonly brushPx: number; readonly softness: number } | null = null;
  /** Where the last stroke ended, which Shift goes on from. */
  let last: PathPlace | null = null;

  /** Whether a place says how hard a pen is pressed, and that counts. */
  const feels = (place: PathPlace): boolean => place.length === 3 && get().hand.pressure !== 'none';

  /** Places as text, with pressure where that counts. */
  const textOf = (led: readonly PathPlace[], pressed: boolean): string =>
    textOfPath(pressed ? led : led.map(([x, y]) => [x, y] as const));

  function strokeOf(path: string, pressed: boolean): BrushStroke {
    const { brushPx, hand: now } = get();
    const pressure = pressed ? now.pressure : 'none';
    const shape = {
      radiusPx: brushPx / 2,
      softness: now.softness,
      strength: now.strength,
      pressure,
      path,
    };
    if (now.tool === 'edge') return { kind: 'edge', does: now.edgeDoes, ...shape };
    const alike = now.alike ? { tolerance: now.tolerance, reads: now.reads } : null;
    return { kind: 'brush', does: now.tool === 'restore' ? 'restore' : 'clear', ...shape, alike };
  }

  function begin(place: PathPlace): boolean {
    if (!hand.hasRoom()) return false;
    places = [place];
    set({ ledHand: { before: get().cut.touchUp.strokes } });
    written = textOf(places, feels(place));
    hand.draftStroke(strokeOf(written, feels(place)));
    return true;
  }

  function goOn(place: PathPlace): void {
    if (!get().ledHand) return;
    const { brushPx } = get();
    const [x, y] = places.at(-1)!;
    if (lengthOf(place[0] - x, place[1] - y) < Math.max(LEAST_STEP_PX, (brushPx / 2) * STEP_SHARE)) return;
    if (places.length >= MOST_PLACES) {
      // What is longer than one stroke can be goes on as another one.
      const end = places.at(-1)!;
      finish();
      if (!begin(end)) return;
    }
    places.push(place);
    const pressed = feels(places[0]!);
    written += ` ${textOf([place], pressed)}`;
    hand.draftStroke(strokeOf(written, pressed));
  }

  function finish(): void {
    if (!get().ledHand) return;
    const radius = get().brushPx / 2;
    const near = Math.max(LEAST_NEAR_PX, radius * NEAR_SHARE);
    last = places.at(-1)!;
    const pressed = feels(places[0]!);
    hand.addStroke(strokeOf(textOf(simplified(places, near, radius), pressed), pressed));
    places = [];
  }

  function line(from: PathPlace, to: PathPlace): void {
    if (!begin(from)) return;
    places.push(to);
    finish();
  }

  /** A place, level with or upright over where the stroke began while Shift is held. */
  function kept(place: PathPlace, from: Point, to: Point, shift: boolean): PathPlace {
    if (!shift) {
      straight = null;
      return place;
    }
    const [dx, dy] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)];
    if (straight === null && Math.max(dx, dy) >= DIRECTION_PX) straight = dx >= dy ? 'y' : 'x';
    const start = at(from);
    // The sheet may be turned: what is kept is a screen's line.
    const on = at(
      straight === 'y' ? { x: to.x, y: from.y } : straight === 'x' ? { x: from.x, y: to.y } : from,
    );
    const [x, y] = straight === null ? start : on;
    return place.length === 3 ? [x, y, place[2]] : [x, y];
  }

  const pressed = (place: PathPlace, { pressure }: DragPhase): PathPlace =>
    pressure === null ? place : [place[0], place[1], Math.round(Math.max(0.02, pressure) * 100) / 100];

  function size(from: Point, to: Point): void {
    if (!sizing) return;
    const { view } = get();
    set({ brushPx: withinBrush(sizing.brushPx + (2 * (to.x - from.x)) / view.scale) });
    const softness = Math.min(100, Math.max(0, Math.round(sizing.softness + (from.y - to.y) / 3)));
    hand.setHand({ softness });
  }

  /** What a stroke that begins at a screen pixel would take of what is alike. */
  const alikeUnder = (point: Point): Promise<AlikeUnder | null> => {
    const [x, y] = at(point);
    return client.alikeUnder(strokeOf(textOfPath([[x, y]]), false));
  };

  const brush: PointerTool = {
    cursor: 'brush',
    enter: 'begins a straight line, or ends it',
    click(point, shift) {
      const place = at(point);
      if (shift && last) line(last, place);
      else if (begin(place)) finish();
    },
    enterKey(point) {
      const { begun } = get().hand;
      if (begun) line([begun.x, begun.y], at(point));
      hand.setHand({ begun: begun ? null : asPoint(at(point)) });
    },
    cancel() {
      places = [];
      hand.cancelStroke();
    },
    drag(from, to, phase) {
      if (phase.first && phase.alt) {
        const { brushPx, hand: now } = get();
        sizing = { brushPx, softness: now.softness };
      }
      if (sizing) {
        size(from, to);
        if (phase.last) sizing = null;
        return;
      }
      if (phase.first && !begin(pressed(at(from), phase))) return;
      goOn(pressed(kept(at(to), from, to, phase.shift), phase));
      if (phase.last) {
        straight = null;
        finish();
      }
    },
  };

  /** Whether a click there closes the outline: on its first corner, or once more on its last one. */
  const closes = (outline: readonly Corner[], point: Point): boolean => {
    if (outline.length < 3) return false;
    const { scale } = get().view;
    const [x, y] = at(point);
    return [outline[0]!, outline.at(-1)!].some(
      (corner) => lengthOf(x - corner.x, y - corner.y) * scale <= CLOSE_PX,
    );
  };

  async function addCorner(point: Point): Promise<void> {
    const { outline, areaBy } = get().hand;
    const corner: Corner = { ...asPoint(at(point)), handle: null };
    if (!outline) {
      if (hand.hasRoom()) hand.setHand({ outline: [corner], note: null, chosen: null });
      return;
    }
    const isEnd = closes(outline, point);
    const before = outline.at(-1)!;
    const between =
      areaBy === 'border' ? await client.borderBetween(before, isEnd ? outline[0]! : corner) : [];
    // While the border was looked for the outline may have been let go.
    if (get().hand.outline !== outline) return;
    const joined = [...outline, ...between.map(([x, y]): Corner => ({ x, y, handle: null }))];
    hand.setHand({ outline: isEnd ? joined : [...joined, corner] });
    if (isEnd) hand.closeOutline();
  }

  const area: PointerTool = {
    cursor: 'cross',
    enter: 'sets a corner, on the first one closes the outline',
    click(point) {
      const { areaBy } = get().hand;
      if (areaBy === 'corners' || areaBy === 'border') void addCorner(point);
    },
    enterKey(point) {
      const { areaBy, begun } = get().hand;
      if (areaBy === 'rectangle' || areaBy === 'ellipse') {
        if (begun) hand.addBox(areaBy, begun, asPoint(at(point)));
        hand.setHand({ begun: begun ? null : asPoint(at(point)) });
      } else void addCorner(point);
    },
    drag(from, to, phase) {
      const { areaBy } = get().hand;
      if (areaBy === 'rectangle' || areaBy === 'ellipse') {
        if (phase.first) hand.setHand({ begun: asPoint(at(from)), chosen: null });
        set({ stretch: phase.last ? null : { from: asPoint(at(from)), to: asPoint(at(to)) } });
        if (!phase.last) return;
        hand.setHand({ begun: null });
        hand.addBox(areaBy, asPoint(at(from)), asPoint(at(to)));
      } else if (areaBy === 'freehand') {
        const [x, y] = at(to);
        if (phase.first) {
          if (!hand.hasRoom()) return;
          const [u, v] = at(from);
          places = [[u, v]];
        }
        if (places.length === 0) return;
        places.push([x, y]);
        hand.setHand({ outline: places.map(([u, v]) => ({ x: u, y: v, handle: null })), chosen: null });
        if (!phase.last) return;
        const near = Math.max(LEAST_NEAR_PX, 0.4 / get().view.scale);
        const few = simplified(places, near).slice(0, MOST_PLACES);
        places = [];
        hand.setHand({ outline: few.map(([u, v]) => ({ x: u, y: v, handle: null })) });
        hand.closeOutline();
      } else if (phase.last && (areaBy === 'corners' || areaBy === 'border')) {
        // A drag sets a corner where it begins, with its handle where it ends: there a curve passes.
        setCurved(from, to);
      }
    },
  };

  function setCurved(from: Point, to: Point): void {
    const { outline } = get().hand;
    const [x, y] = at(from);
    const [u, v] = at(to);
    const corner: Corner = { x, y, handle: { x: u - x, y: v - y } };
    if (!outline && !hand.hasRoom()) return;
    hand.setHand({ outline: [...(outline ?? []), corner], note: null, chosen: null });
  }

  const piece: PointerTool = {
    cursor: 'cross',
    enter: 'picks the piece',
    click(point) {
      const pixel = pixelAt(get(), point);
      if (!pixel) return;
      if (hand.hasRoom()) hand.addStroke({ kind: 'island', does: get().hand.pieceDoes, ...pixel });
    },
    drag: null,
  };

  async function endGap(begun: Point, end: Point): Promise<void> {
    hand.setHand({ begun: null });
    const ends = await client.lineEnds(begun, end);
    if (!ends) {
      hand.setHand({ note: 'No line ends near one of these places; nothing was changed.' });
      return;
    }
    const { from, to, widthPx, endWidthPx, color } = ends;
    if (!hand.hasRoom()) return;
    const path = textOfPath([
      [from.x, from.y],
      [to.x, to.y],
    ]);
    hand.addStroke({ kind: 'gap', does: 'close', path, widthPx, endWidthPx, color });
  }

  function gapAt(point: Point): void {
    const { begun } = get().hand;
    if (begun) void endGap(begun, asPoint(at(point)));
    else hand.setHand({ begun: asPoint(at(point)), note: null });
  }

  const gap: PointerTool = {
    cursor: 'cross',
    enter: 'sets an end of the gap',
    click: gapAt,
    drag(from, to, { first, last: isLast }) {
      if (first) hand.setHand({ begun: asPoint(at(from)) });
      set({ stretch: isLast ? null : { from: asPoint(at(from)), to: asPoint(at(to)) } });
      if (isLast) void endGap(asPoint(at(from)), asPoint(at(to)));
    },
  };

  const tools = { 'hand-brush': brush, 'hand-area': area, 'hand-piece': piece, 'hand-gap': gap };
  return { tools, alikeUnder };
}

/** The pointer tool of the hand tool that is chosen. */
export function handToolOf({ hand }: BenchState): 'hand-brush' | 'hand-area' | 'hand-piece' | 'hand-gap' {
  switch (hand.tool) {
    case 'area':
      return 'hand-area';
    case 'piece':
      return 'hand-piece';
    case 'gap':
      return 'hand-gap';
    default:
      return 'hand-brush';
  }
}

/** The softness a key steps to. */
export function steppedSoftness(softness: number, by: 1 | -1): number {
  return Math.min(100, Math.max(0, softness + by * 10));
}
