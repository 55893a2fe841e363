import { useBench } from './bench-context';
import classes from './bench.module.css';
import { StrokeMarks } from './StrokeMarks';
import { SampleMarks } from './SampleMarks';

/** How many pockets are numbered on the sheet; smaller ones would only cover it. */
const NUMBERED = 40;

/** Everything that is marked on the sheet: samples, pockets, the stretch that is being dragged. */
export function SheetMarks({ density }: { readonly density: number }) {
  const stage = useBench((state) => state.stage);
  const look = useBench((state) => state.look);
  const opened = useBench((state) => state.opened);
  if (!opened || look === 'original') return null;
  if (stage === 'edge') return <StrokeMarks density={density} />;
  if (stage !== 'clear') return null;
  return (
    <>
      <PocketMarks density={density} />
      <StretchLine density={density} />
      <SampleMarks density={density} />
    </>
  );
}

function PocketMarks({ density }: { readonly density: number }) {
  const pockets = useBench((state) => state.pockets);
  const view = useBench((state) => state.view);
  return pockets.slice(0, NUMBERED).map(({ x, y, kept }, index) => (
    <span
      key={`${x},${y}`}
      className={classes.pocketMark}
      data-kept={kept || undefined}
      style={{
        left: ((x + 0.5) * view.scale + view.left) / density,
        top: ((y + 0.5) * view.scale + view.top) / density,
      }}
      aria-hidden="true"
    >
      {index + 1}
    </span>
  ));
}

function StretchLine({ density }: { readonly density: number }) {
  const stretch = useBench((state) => state.stretch);
  const view = useBench((state) => state.view);
  if (!stretch) return null;
  const at = (value: number, start: number) => ((value + 0.5) * view.scale + start) / density;
  const line = {
    x1: at(stretch.from.x, view.left),
    y1: at(stretch.from.y, view.top),
    x2: at(stretch.to.x, view.left),
    y2: at(stretch.to.y, view.top),
  };
  return (
    <svg className={classes.stretch} aria-hidden="true">
      <line {...line} stroke="#ffffff" strokeWidth={5} />
      <line {...line} stroke="#1c1c1c" strokeWidth={2} />
    </svg>
  );
}
