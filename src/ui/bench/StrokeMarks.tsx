import { useId } from 'react';
import type { Stroke } from '../../core/cut/schema';
import { shownPlace } from '../../core/stages/prepare/shown';
import { useBench } from './bench-context';
import classes from './bench.module.css';

/** What was painted over fine detail, dotted, and the brush's outline at its true size. */
export function StrokeMarks({ density }: { readonly density: number }) {
  const paints = useBench((state) => state.edgeMode === 'paint');
  const strokes = useBench((state) => state.cut.edge.fineDetail);
  if (!paints) return null;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      <Strokes strokes={strokes} dots="full" density={density} />
      <BrushOutline density={density} />
    </svg>
  );
}

/** What was marked: full dots over what stays, rings over what goes, and the brush's outline with the sign of its side. */
export function MarkStrokes({ density }: { readonly density: number }) {
  const saved = useBench((state) => state.cut.clear.marks);
  const marking = useBench((state) => state.marking);
  const markGoes = useBench((state) => state.markGoes);
  const marks = marking ? [...saved, marking] : saved;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      <Strokes strokes={marks.filter(({ goes }) => goes)} dots="rings" density={density} />
      <Strokes strokes={marks.filter(({ goes }) => !goes)} dots="full" density={density} />
      <BrushOutline density={density} sign={markGoes ? 'minus' : 'plus'} />
    </svg>
  );
}

interface StrokesProps {
  readonly strokes: readonly Stroke[];
  readonly dots: 'full' | 'rings';
  readonly density: number;
}

function Strokes({ strokes, dots, density }: StrokesProps) {
  const view = useBench((state) => state.view);
  const frame = useBench((state) => state.frame);
  const pattern = useId();
  const onScreen = (at: number, start: number) => (at * view.scale + start) / density;
  return (
    <>
      <pattern id={pattern} width={7} height={7} patternUnits="userSpaceOnUse">
        <circle cx={3.5} cy={3.5} r={dots === 'full' ? 1.9 : 2.6} className={classes.dotRim} />
        <circle cx={3.5} cy={3.5} r={dots === 'full' ? 1.2 : 1.9} className={classes.dot} />
        {dots === 'rings' && <circle cx={3.5} cy={3.5} r={1} className={classes.dotRim} />}
      </pattern>
      {strokes.map(({ radiusPx, points }, index) => (
        <polyline
          key={index}
          points={[...points, points.at(-1)!]
            .map(([x, y]) => shownPlace(frame, x, y))
            .map(({ x, y }) => `${onScreen(x, view.left)},${onScreen(y, view.top)}`)
            .join(' ')}
          fill="none"
          stroke={`url(#${pattern})`}
          strokeWidth={(2 * radiusPx * view.scale) / density}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
    </>
  );
}

interface OutlineProps {
  readonly density: number;
  readonly sign?: 'plus' | 'minus';
}

function BrushOutline({ density, sign }: OutlineProps) {
  const pointer = useBench((state) => state.pointer);
  const brushPx = useBench((state) => state.brushPx);
  const view = useBench((state) => state.view);
  if (!pointer) return null;
  const cx = ((pointer.x + 0.5) * view.scale + view.left) / density;
  const cy = ((pointer.y + 0.5) * view.scale + view.top) / density;
  const r = (brushPx * view.scale) / 2 / density;
  const arm = Math.min(6, r / 2);
  const shape = `M${cx - arm} ${cy}h${2 * arm}${sign === 'plus' ? `M${cx} ${cy - arm}v${2 * arm}` : ''}`;
  const line = (stroke: string, strokeWidth: number) => (
    <>
      <circle cx={cx} cy={cy} r={r} fill="none" stroke={stroke} strokeWidth={strokeWidth} />
      {sign && <path d={shape} stroke={stroke} strokeWidth={strokeWidth} />}
    </>
  );
  return (
    <>
      {line('#ffffff', 3)}
      {line('#1c1c1c', 1.2)}
    </>
  );
}
