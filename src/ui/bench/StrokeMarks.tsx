import { useId } from 'react';
import type { Stroke } from '../../core/stages/shapes';
import { useBench } from './bench-context';
import classes from './bench.module.css';
import { BrushRings } from './BrushRings';
import { useOnScreen } from './use-on-screen';

/** What was painted over fine detail, dotted, and the brush's outline at its true size. */
export function StrokeMarks({ density }: { readonly density: number }) {
  const paints = useBench((state) => state.edgeMode === 'paint');
  const strokes = useBench((state) => state.cut.edge.fineDetail);
  if (!paints) return null;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      <Dotted strokes={strokes} density={density} />
      <BrushRings density={density} />
    </svg>
  );
}

function Dotted({ strokes, density }: MarkedProps) {
  const lines = useLines(strokes, density);
  const pattern = useId();
  return (
    <>
      <pattern id={pattern} width={7} height={7} patternUnits="userSpaceOnUse">
        <circle cx={3.5} cy={3.5} r={1.9} className={classes.dotRim} />
        <circle cx={3.5} cy={3.5} r={1.2} className={classes.dot} />
      </pattern>
      {lines.map((line, index) => (
        <Band key={index} line={line} stroke={`url(#${pattern})`} />
      ))}
    </>
  );
}

/** What was marked: an outline with a dot at its start around what stays, hatching with a bar at its start over what goes. */
export function MarkStrokes({ density }: { readonly density: number }) {
  const saved = useBench((state) => state.cut.clear.marks);
  const led = useBench((state) => state.led);
  const markGoes = useBench((state) => state.markGoes);
  const marks = led && 'goes' in led ? [...saved, led] : saved;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      <Hatched strokes={marks.filter(({ goes }) => goes)} density={density} />
      <Outlined strokes={marks.filter(({ goes }) => !goes)} density={density} />
      <BrushRings density={density} sign={markGoes ? 'minus' : 'plus'} />
    </svg>
  );
}

/** Where strokes lie on the screen, in CSS pixels. */
function useLines(strokes: readonly Stroke[], density: number) {
  const view = useBench((state) => state.view);
  const onScreen = useOnScreen(density);
  return strokes.map(({ radiusPx, points }) => ({
    width: (2 * radiusPx * view.scale) / density,
    places: points.map(([x, y]) => {
      const at = onScreen(x, y);
      return [at.x, at.y] as const;
    }),
  }));
}

type Line = ReturnType<typeof useLines>[number];

interface BandProps {
  readonly line: Line;
  readonly stroke: string;
  /** How much wider than the brush, in CSS pixels. */
  readonly wider?: number;
}

/** A stroke as wide as its brush. */
function Band({ line: { width, places }, stroke, wider = 0 }: BandProps) {
  return (
    <polyline
      points={[...places, places.at(-1)!].join(' ')}
      fill="none"
      stroke={stroke}
      strokeWidth={Math.max(1, width + wider)}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}

/** Width of an outline and of its rim, in CSS pixels. */
const OUTLINE = 1.6;
const RIM = 1.4;

interface MarkedProps {
  readonly strokes: readonly Stroke[];
  readonly density: number;
}

function Outlined({ strokes, density }: MarkedProps) {
  const lines = useLines(strokes, density);
  const mask = useId();
  const bands = (stroke: string, wider: number) =>
    lines.map((line, index) => <Band key={index} line={line} stroke={stroke} wider={wider} />);
  return (
    <>
      <mask id={mask} maskUnits="userSpaceOnUse" x="0" y="0" width="100%" height="100%">
        {bands('#fff', 2 * RIM)}
        {bands('#000', -2 * (OUTLINE + RIM))}
      </mask>
      <g mask={`url(#${mask})`}>
        {bands('#ffffff', 2 * RIM)}
        {bands('#1c1c1c', 0)}
        {bands('#ffffff', -2 * OUTLINE)}
      </g>
      {lines.map(({ places: [[x, y] = [0, 0]] }, index) => (
        <circle key={index} cx={x} cy={y} r={3.5} className={classes.undecided} />
      ))}
    </>
  );
}

function Hatched({ strokes, density }: MarkedProps) {
  const lines = useLines(strokes, density);
  const pattern = useId();
  return (
    <>
      <pattern id={pattern} width={6} height={6} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width={3.4} height={6} fill="#ffffff" />
        <rect x={1} width={1.4} height={6} fill="#1c1c1c" />
      </pattern>
      {lines.map((line, index) => (
        <Band key={index} line={line} stroke={`url(#${pattern})`} />
      ))}
      {lines.map((line, index) => (
        <StartBar key={index} line={line} />
      ))}
    </>
  );
}

/** The shortest bar at a stroke's start, in CSS pixels. */
const LEAST_BAR = 10;

/** A bar across the start of a stroke. */
function StartBar({ line: { places, width } }: { readonly line: Line }) {
  const [x, y] = places[0]!;
  const [toX, toY] = places.find(([u, v]) => Math.hypot(u - x, v - y) > 2) ?? [x + 1, y];
  const far = Math.hypot(toX - x, toY - y);
  const half = Math.max(LEAST_BAR, width) / 2 / far;
  const across = {
    x1: x - (toY - y) * half,
    y1: y + (toX - x) * half,
    x2: x + (toY - y) * half,
    y2: y - (toX - x) * half,
  };
  return (
    <>
      <line {...across} stroke="#ffffff" strokeWidth={5} />
      <line {...across} stroke="#1c1c1c" strokeWidth={2.4} />
    </>
  );
}
