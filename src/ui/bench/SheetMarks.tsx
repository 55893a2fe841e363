import { useBench } from './bench-context';
import classes from './bench.module.css';
import { shownPixel } from '../../core/stages/prepare/shown';
import { AreaMarks } from './AreaMarks';
import { FindingMarks } from './FindingMarks';
import { HandMarks } from './HandMarks';
import { PrepareMarks } from './PrepareMarks';
import { MarkStrokes, StrokeMarks } from './StrokeMarks';
import { SampleMarks } from './SampleMarks';

/** Everything that is marked on the sheet: samples, areas, the stretch that is being dragged. */
export function SheetMarks({ density }: { readonly density: number }) {
  const stage = useBench((state) => state.stage);
  const look = useBench((state) => state.look);
  const opened = useBench((state) => state.opened);
  const looksAtAreas = useBench(({ at }) => at?.kind === 'pocket');
  const byMarks = useBench((state) => state.clearBy === 'marks');
  const shift = useBench(({ comparing, view }) => (comparing === 'beside' ? view.width / density : 0));
  if (!opened || look === 'original') return null;
  if (stage === 'prepare')
    return (
      <>
        <PrepareMarks density={density} />
        <StretchLine density={density} />
      </>
    );
  if (stage === 'edge')
    return (
      <>
        <FindingMarks density={density} shift={shift} />
        <StrokeMarks density={density} />
      </>
    );
  if (stage === 'touchUp')
    return (
      <>
        <FindingMarks density={density} shift={shift} />
        {looksAtAreas && <AreaMarks density={density} />}
        <HandMarks density={density} />
      </>
    );
  if (stage !== 'clear')
    return (
      <>
        <FindingMarks density={density} shift={shift} />
        {looksAtAreas && <AreaMarks density={density} />}
      </>
    );
  return (
    <>
      <FindingMarks density={density} shift={shift} />
      <AreaMarks density={density} />
      <StretchLine density={density} />
      {byMarks ? <MarkStrokes density={density} /> : <SampleMarks density={density} />}
    </>
  );
}

function StretchLine({ density }: { readonly density: number }) {
  const stretch = useBench((state) => state.stretch);
  const inFrame = useBench((state) => state.stage === 'prepare');
  const frame = useBench((state) => state.frame);
  const view = useBench((state) => state.view);
  if (!stretch) return null;
  const onScreen = (place: { readonly x: number; readonly y: number }) => {
    const shown = shownPixel(frame, place.x, place.y);
    const { x, y } = inFrame ? place : { x: shown.x + 0.5, y: shown.y + 0.5 };
    return { x: (x * view.scale + view.left) / density, y: (y * view.scale + view.top) / density };
  };
  const from = onScreen(stretch.from);
  const to = onScreen(stretch.to);
  const line = { x1: from.x, y1: from.y, x2: to.x, y2: to.y };
  return (
    <svg className={classes.stretch} aria-hidden="true">
      <line {...line} stroke="#ffffff" strokeWidth={5} />
      <line {...line} stroke="#1c1c1c" strokeWidth={2} />
    </svg>
  );
}
