import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Sample } from '../../core/stages/clear/settings';
import { originalPixel, shownPixel } from '../../core/stages/prepare/shown';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const STEPS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The samples' places on the sheet: drag to move, arrow keys nudge, Delete deletes. */
export function SampleMarks({ density }: { readonly density: number }) {
  const samples = useBench((state) => state.cut.clear.samples);
  return samples.map((sample, index) => (
    <SampleMark key={sample.id} sample={sample} number={index + 1} density={density} />
  ));
}

interface MarkProps {
  readonly sample: Sample;
  readonly number: number;
  readonly density: number;
}

function SampleMark({ sample, number, density }: MarkProps) {
  const view = useBench((state) => state.view);
  const chosen = useBench((state) => state.selected === sample.id);
  const piece = useBench((state) => state.piece);
  const actions = useBenchActions();
  const drag = useRef<{ x: number; y: number; startX: number; startY: number } | null>(null);

  const frame = useBench((state) => state.frame);
  const shown = shownPixel(frame, sample.x, sample.y);
  /** A pixel of the frame as one of the original. */
  const within = (frameX: number, frameY: number) => {
    const { x, y } = originalPixel(frame, Math.round(frameX), Math.round(frameY));
    return { x: Math.min(piece.width - 1, Math.max(0, x)), y: Math.min(piece.height - 1, Math.max(0, y)) };
  };
  const target = (event: PointerEvent) => {
    const { x, y, startX, startY } = drag.current!;
    const perPixel = density / view.scale;
    return within(startX + (event.clientX - x) * perPixel, startY + (event.clientY - y) * perPixel);
  };
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, y: event.clientY, startX: shown.x, startY: shown.y };
    actions.select(sample.id);
  };
  const onPointerMove = (event: PointerEvent) => {
    if (drag.current) actions.draftSample(sample.id, target(event));
  };
  const onPointerUp = (event: PointerEvent) => {
    if (drag.current) actions.changeSample(sample.id, target(event));
    drag.current = null;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    const far = event.shiftKey ? 10 : 1;
    if (step) actions.changeSample(sample.id, within(shown.x + step[0] * far, shown.y + step[1] * far));
    else if (event.key === 'Delete' || event.key === 'Backspace') actions.deleteSample(sample.id);
    else return;
    event.preventDefault();
  };
  return (
    <button
      type="button"
      className={classes.mark}
      data-chosen={chosen || undefined}
      data-off={!sample.on || undefined}
      aria-label={`Sample ${number} at ${sample.x}, ${sample.y}`}
      style={{
        left: ((shown.x + 0.5) * view.scale + view.left) / density,
        top: ((shown.y + 0.5) * view.scale + view.top) / density,
      }}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onKeyDown={onKeyDown}
      onFocus={() => actions.select(sample.id)}
    >
      {number}
    </button>
  );
}
