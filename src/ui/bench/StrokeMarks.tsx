import { useId } from 'react';
import type { Stroke } from '../../core/cut/schema';
import { shownPlace } from '../../core/stages/prepare/shown';
import { useBench } from './bench-context';
import classes from './bench.module.css';

/** What was painted over fine detail, dotted, and the brush's outline at its true size. */
export function StrokeMarks({ density }: { readonly density: number }) {
  const paints = useBench((state) => state.edgeMode === 'paint');
  const strokes = useBench((state) => state.cut.edge.fineDetail);
  const view = useBench((state) => state.view);
  const frame = useBench((state) => state.frame);
  const dots = useId();
  if (!paints) return null;
  const onScreen = (at: number, start: number) => (at * view.scale + start) / density;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      <pattern id={dots} width={7} height={7} patternUnits="userSpaceOnUse">
        <circle cx={3.5} cy={3.5} r={1.9} className={classes.dotRim} />
        <circle cx={3.5} cy={3.5} r={1.2} className={classes.dot} />
      </pattern>
      {strokes.map(({ radiusPx, points }: Stroke, index) => (
        <polyline
          key={index}
          points={[...points, points.at(-1)!]
            .map(([x, y]) => shownPlace(frame, x, y))
            .map(({ x, y }) => `${onScreen(x, view.left)},${onScreen(y, view.top)}`)
            .join(' ')}
          fill="none"
          stroke={`url(#${dots})`}
          strokeWidth={(2 * radiusPx * view.scale) / density}
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
      <BrushOutline density={density} />
    </svg>
  );
}

function BrushOutline({ density }: { readonly density: number }) {
  const pointer = useBench((state) => state.pointer);
  const brushPx = useBench((state) => state.brushPx);
  const view = useBench((state) => state.view);
  if (!pointer) return null;
  const circle = {
    cx: ((pointer.x + 0.5) * view.scale + view.left) / density,
    cy: ((pointer.y + 0.5) * view.scale + view.top) / density,
    r: (brushPx * view.scale) / 2 / density,
  };
  return (
    <>
      <circle {...circle} fill="none" stroke="#ffffff" strokeWidth={3} />
      <circle {...circle} fill="none" stroke="#1c1c1c" strokeWidth={1.2} />
    </>
  );
}
