import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import classes from './bench.module.css';

const STEPS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface HandleProps {
  readonly name: string;
  readonly at: { readonly x: number; readonly y: number };
  /** Pixels of the frame for one CSS pixel. */
  readonly perPixel: number;
  /** Called while it moves, with how far it is from where it began, in pixels of the frame, and whether Alt is held. */
  readonly onMove: (dx: number, dy: number, alt: boolean) => void;
  readonly onDone: (dx: number, dy: number, alt: boolean) => void;
  /** Called by the key Delete. */
  readonly onDelete?: () => void;
  readonly round?: boolean;
}

/** A square to drag, or to nudge with the arrow keys. */
export function Handle({ name, at, perPixel, onMove, onDone, onDelete, round }: HandleProps) {
  const from = useRef<{
    x: number;
    y: number;
    move: HandleProps['onMove'];
    done: HandleProps['onDone'];
  } | null>(null);
  const far = (event: PointerEvent): [number, number, boolean] => [
    (event.clientX - from.current!.x) * perPixel,
    (event.clientY - from.current!.y) * perPixel,
    event.altKey,
  ];
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    // The rectangle it began with counts until it is let go.
    from.current = { x: event.clientX, y: event.clientY, move: onMove, done: onDone };
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Delete' && onDelete) {
      event.preventDefault();
      onDelete();
      return;
    }
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const times = event.shiftKey ? 10 : 1;
    onDone(step[0] * times, step[1] * times, event.altKey);
  };
  return (
    <button
      type="button"
      className={classes.handle}
      aria-label={name}
      data-round={round || undefined}
      style={{ left: at.x, top: at.y }}
      onPointerDown={onPointerDown}
      onPointerMove={(event) => {
        if (from.current) from.current.move(...far(event));
      }}
      onPointerUp={(event) => {
        if (from.current) from.current.done(...far(event));
        from.current = null;
      }}
      onKeyDown={onKeyDown}
    />
  );
}
