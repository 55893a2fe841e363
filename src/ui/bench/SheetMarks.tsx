import { useBench } from './bench-context';
import classes from './bench.module.css';
import { shownPixel } from '../../core/stages/prepare/shown';
import type { Place } from '../../core/findings/finding';
import { FindingMarks } from './FindingMarks';
import { PrepareMarks } from './PrepareMarks';
import { MarkStrokes, StrokeMarks } from './StrokeMarks';
import { SampleMarks } from './SampleMarks';

/** How many pockets are numbered on the sheet; smaller ones would only cover it. */
const NUMBERED = 40;

/** Everything that is marked on the sheet: samples, pockets, the stretch that is being dragged. */
export function SheetMarks({ density }: { readonly density: number }) {
  const stage = useBench((state) => state.stage);
  const look = useBench((state) => state.look);
  const opened = useBench((state) => state.opened);
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
  if (stage !== 'clear') return <FindingMarks density={density} shift={shift} />;
  return (
    <>
      <FindingMarks density={density} shift={shift} />
      <PocketMarks density={density} />
      <StretchLine density={density} />
      {byMarks ? <MarkStrokes density={density} /> : <SampleMarks density={density} />}
    </>
  );
}

/** Open pockets with the numbers they have in the margin, kept ones with a word. */
function PocketMarks({ density }: { readonly density: number }) {
  const pockets = useBench((state) => state.checked?.pockets);
  const open = useBench((state) => state.open.find(({ kind }) => kind === 'pocket')?.places);
  const view = useBench((state) => state.view);
  const kept = pockets?.filter(({ goes, sure }) => !goes && sure) ?? [];
  const mark = ({ at: { x, y } }: Place, words: string | number, isKept: boolean) => (
    <span
      key={`${x},${y}`}
      className={classes.pocketMark}
      data-kept={isKept || undefined}
      style={{
        left: ((x + 0.5) * view.scale + view.left) / density,
        top: ((y + 0.5) * view.scale + view.top) / density,
      }}
      aria-hidden="true"
    >
      {words}
    </span>
  );
  return (
    <>
      {kept.slice(0, NUMBERED).map((pocket) => mark(pocket, 'kept', true))}
      {open?.slice(0, NUMBERED).map((place, index) => mark(place, index + 1, false))}
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
