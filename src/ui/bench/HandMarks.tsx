import { useRef } from 'react';
import type { Point } from '../../core/numeric/matrix3';
import { originalPlace, shownPlace } from '../../core/stages/prepare/shown';
import {
  closedLine,
  cornersOf,
  pathOf,
  textOfCorners,
  type Corner,
  type Path,
} from '../../core/stages/touch-up/path';
import { pathTextOf, type HandStroke, type StrokeOf } from '../../core/stages/touch-up/settings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { Handle } from './Handle';
import { AlikePreview } from './AlikePreview';
import { BrushRings } from './BrushRings';
import { useOnScreen } from './use-on-screen';

interface Props {
  readonly density: number;
}

const SIGNS = { clear: 'minus', restore: 'plus', edge: undefined } as const;

/** What is marked on the sheet while Touch up is open: the brush at its true size, what was begun, the stroke pointed at in the list. */
export function HandMarks({ density }: Props) {
  const { tool, softness } = useBench((state) => state.hand);
  const isBrush = tool === 'clear' || tool === 'restore' || tool === 'edge';
  return (
    <>
      <AlikePreview density={density} />
      <svg className={classes.strokes} aria-hidden="true">
        <LiftedStroke density={density} />
        <Outline density={density} />
        <Box density={density} />
        <Begun density={density} />
        {isBrush && <BrushRings density={density} softness={softness} sign={SIGNS[tool]} />}
      </svg>
      <ChosenArea density={density} />
    </>
  );
}

const text = (points: readonly Point[]) => points.map(({ x, y }) => `${x},${y}`).join(' ');

function pointsOf({ xs, ys }: Path, onScreen: (x: number, y: number) => Point): Point[] {
  return [...xs].map((x, k) => onScreen(x, ys[k]!));
}

/** The stroke that is pointed at in the list, or chosen there. */
function LiftedStroke({ density }: Props) {
  const stroke = useBench(({ hand, cut }) => {
    const index = hand.hovered ?? hand.chosen;
    return index === null ? undefined : cut.touchUp.strokes[index];
  });
  const scale = useBench(({ view }) => view.scale);
  const onScreen = useOnScreen(density);
  if (!stroke) return null;
  if (stroke.kind === 'area') {
    const points = text(pointsOf(closedLine(stroke.shape, stroke.corners), onScreen));
    return (
      <g data-lifted>
        <polygon points={points} className={classes.quadRim} />
        <polygon points={points} className={classes.quad} />
      </g>
    );
  }
  const places = pointsOf(pathOf(pathTextOf(stroke)), onScreen);
  return <LiftedLine places={places} width={(widthOf(stroke) * scale) / density} />;
}

function widthOf(stroke: HandStroke): number {
  if (stroke.kind === 'brush' || stroke.kind === 'edge') return 2 * stroke.radiusPx;
  return stroke.kind === 'gap' ? stroke.widthPx : 0;
}

/** The outline of a band around a line: two lines beside it and round ends. */
function LiftedLine({ places, width }: { readonly places: readonly Point[]; readonly width: number }) {
  const points = text([...places, places.at(-1)!]);
  const band = (stroke: string, wider: number) => (
    <polyline
      points={points}
      fill="none"
      stroke={stroke}
      strokeWidth={Math.max(6, width) + wider}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
  return (
    <g data-lifted>
      <mask id="lifted-stroke" maskUnits="userSpaceOnUse" x="0" y="0" width="100%" height="100%">
        {band('#fff', 3)}
        {band('#000', -3)}
      </mask>
      <g mask="url(#lifted-stroke)">
        {band('#ffffff', 3)}
        {band('#1c1c1c', 0.4)}
        {band('#ffffff', -1.6)}
      </g>
    </g>
  );
}

/** The outline that is being drawn, up to the pointer. */
function Outline({ density }: Props) {
  const outline = useBench(({ hand }) => hand.outline);
  const isFreehand = useBench(({ hand }) => hand.areaBy === 'freehand');
  const over = useBench((state) => state.over);
  const onScreen = useOnScreen(density);
  if (!outline) return null;
  const line = openLine(outline).map(({ x, y }) => onScreen(x, y));
  const points = text(over && !isFreehand ? [...line, { x: over.x / density, y: over.y / density }] : line);
  const first = onScreen(outline[0]!.x, outline[0]!.y);
  return (
    <g data-outline={outline.length}>
      <polyline points={points} className={classes.quadRim} />
      <polyline points={points} className={classes.quad} />
      <circle cx={first.x} cy={first.y} r={5} className={classes.undecided} />
    </g>
  );
}

/** The line through corners that are not closed yet. */
function openLine(corners: readonly Corner[]): Point[] {
  if (corners.every(({ handle }) => handle === null)) return [...corners];
  const pieces = corners.slice(1).map((to, k) => {
    const from = corners[k]!;
    const { xs, ys } = closedLine('outline', textOfCorners([from, to]));
    const end = xs.findIndex((x, n) => n > 0 && x === to.x && ys[n] === to.y);
    return [...xs.subarray(0, end < 0 ? xs.length : end)].map((x, n) => ({ x, y: ys[n]! }));
  });
  return [...pieces.flat(), corners.at(-1)!];
}

/** The rectangle or ellipse that is being drawn, or the gap. */
function Box({ density }: Props) {
  const stretch = useBench((state) => state.stretch);
  const shape = useBench(({ hand }) => (hand.tool === 'area' ? hand.areaBy : 'gap'));
  const onScreen = useOnScreen(density);
  if (!stretch) return null;
  const { from, to } = stretch;
  const line: Path =
    shape === 'rectangle' || shape === 'ellipse'
      ? closedLine(shape, `${from.x},${from.y} ${to.x},${to.y}`)
      : { xs: Float64Array.of(from.x, to.x), ys: Float64Array.of(from.y, to.y), pressures: null };
  const points = text(pointsOf(line, onScreen));
  return (
    <>
      <polygon points={points} className={classes.quadRim} />
      <polygon points={points} className={classes.quad} />
    </>
  );
}

/** Where a straight line or a box was begun by key, with a line to the pointer. */
function Begun({ density }: Props) {
  const begun = useBench(({ hand }) => hand.begun);
  const over = useBench((state) => state.over);
  const isDragged = useBench(({ stretch }) => stretch !== null);
  const onScreen = useOnScreen(density);
  if (!begun || isDragged) return null;
  const { x, y } = onScreen(begun.x, begun.y);
  return (
    <g data-begun>
      {over && (
        <>
          <line
            x1={x}
            y1={y}
            x2={over.x / density}
            y2={over.y / density}
            stroke="#ffffff"
            strokeWidth={3.4}
          />
          <line
            x1={x}
            y1={y}
            x2={over.x / density}
            y2={over.y / density}
            stroke="#1c1c1c"
            strokeWidth={1.4}
          />
        </>
      )}
      <circle cx={x} cy={y} r={4} className={classes.undecided} />
    </g>
  );
}

/** Corners that have handles on the sheet. */
const MOST_HANDLES = 60;

/** The area that is chosen in the list, with its corners to be dragged: with Alt a corner becomes a curve. */
function ChosenArea({ density }: Props) {
  const chosen = useBench(({ hand }) => hand.chosen);
  const stroke = useBench(({ cut }) => (chosen === null ? undefined : cut.touchUp.strokes[chosen]));
  if (chosen === null || stroke?.kind !== 'area') return null;
  return <AreaHandles key={chosen} index={chosen} stroke={stroke} density={density} />;
}

interface AreaProps extends Props {
  readonly index: number;
  readonly stroke: StrokeOf<'area'>;
}

function AreaHandles({ index, stroke, density }: AreaProps) {
  const frame = useBench((state) => state.frame);
  const view = useBench((state) => state.view);
  const actions = useBenchActions();
  const onScreen = useOnScreen(density);
  const corners = cornersOf(stroke.corners);
  const start = useRef<readonly Corner[] | null>(null);
  if (corners.length > MOST_HANDLES) return null;
  /** The corners with one of them, or its curve, moved on the screen. */
  const moved = (k: number, what: 'corner' | 'curve', dx: number, dy: number): Corner[] => {
    const before = (start.current ??= corners);
    return before.map((corner, n) => {
      if (n !== k) return corner;
      const tip = what === 'corner' ? corner : tipOf(corner);
      const at = shownPlace(frame, tip.x, tip.y);
      const to = originalPlace(frame, at.x + dx, at.y + dy);
      if (what === 'corner') return { ...corner, x: to.x, y: to.y };
      return { ...corner, handle: { x: to.x - corner.x, y: to.y - corner.y } };
    });
  };
  const handlers = (k: number, what: 'corner' | 'curve') => ({
    onMove: (dx: number, dy: number, alt: boolean) =>
      actions.setCorners(index, moved(k, alt && stroke.shape === 'outline' ? 'curve' : what, dx, dy), false),
    onDone(dx: number, dy: number, alt: boolean) {
      const next = moved(k, alt && stroke.shape === 'outline' ? 'curve' : what, dx, dy);
      start.current = null;
      actions.setCorners(index, next, true);
    },
  });
  const set = (next: readonly Corner[]) => actions.setCorners(index, next, true);
  return (
    <>
      {corners.map((corner, k) => (
        <Handle
          key={`corner ${k}`}
          name={`Area: corner ${k + 1}`}
          at={onScreen(corner.x, corner.y)}
          perPixel={density / view.scale}
          {...handlers(k, 'corner')}
          onDelete={() => set(corners.filter((_, n) => n !== k))}
        />
      ))}
      {corners.map((corner, k) =>
        corner.handle ? (
          <Handle
            key={`curve ${k}`}
            name={`Area: curve of corner ${k + 1}`}
            round
            at={onScreen(tipOf(corner).x, tipOf(corner).y)}
            perPixel={density / view.scale}
            {...handlers(k, 'curve')}
            onDelete={() => set(corners.map((one, n) => (n === k ? { ...one, handle: null } : one)))}
          />
        ) : null,
      )}
    </>
  );
}

/** Where a corner's curve is led to; the corner itself where it has none. */
function tipOf({ x, y, handle }: Corner): Point {
  return { x: x + (handle?.x ?? 0), y: y + (handle?.y ?? 0) };
}
