import { useGesture } from '@use-gesture/react';
import { useEffect, useState, type RefObject } from 'react';
import { toolOf } from '../../bench/pointer-tools';
import { useBench, useBenchStore } from './bench-context';

/** How much one wheel notch zooms. */
const WHEEL_ZOOM = 1.0016;

/**
 * Wheel zooms at the pointer, two fingers on a trackpad pan, pinch zooms, space or middle button drags the sheet, and a click
 * or a drag is the tool's in hand. `panning` is true while the space key is held.
 */
export function useSheetGestures(
  area: RefObject<HTMLDivElement | null>,
  density: number,
): { readonly panning: boolean } {
  const { actions, store, tools } = useBenchStore();
  const panning = useSpaceHeld();
  const tool = tools[useBench(toolOf)];
  const clickPans = panning || tool.drag === null;

  const onSheet = (clientX: number, clientY: number) => {
    const box = area.current!.getBoundingClientRect();
    const { comparing, view } = store.getState();
    const x = (clientX - box.left) * density;
    // Side by side the right half shows the same view as the left one.
    const shift = comparing === 'beside' && x >= view.width ? view.width : 0;
    return { x: x - shift, y: (clientY - box.top) * density };
  };

  useGesture(
    {
      onMove: ({ event, last }) => {
        if (last) return;
        const { x, y } = onSheet(event.clientX, event.clientY);
        void actions.point(x, y);
      },
      onHover: ({ hovering }) => {
        if (!hovering) actions.pointAway();
      },
      onWheel: ({ event, last }) => {
        // The end of a gesture brings its last event once more.
        if (last || event.ctrlKey) return;
        event.preventDefault();
        const { x, y } = onSheet(event.clientX, event.clientY);
        if (isTrackpad(event)) actions.pan(-event.deltaX * density, -event.deltaY * density);
        else actions.zoomBy(WHEEL_ZOOM ** -pixelsOf(event), x, y);
      },
      onPinch: ({ origin: [originX, originY], offset: [scale], first, memo, event }) => {
        if (event.cancelable) event.preventDefault();
        if (first) tool.cancel?.();
        const start = (first ? store.getState().view.scale / scale : memo) as number;
        const { x, y } = onSheet(originX, originY);
        actions.zoomTo(start * scale, x, y);
        return start;
      },
      onDrag: ({ event, initial, first, delta: [dx, dy], tap, buttons, pinching, last, memo }) => {
        if (pinching) return undefined;
        const pointer = event as PointerEvent;
        const { x, y } = onSheet(pointer.clientX, pointer.clientY);
        const pans = (memo as boolean | undefined) ?? (buttons === 4 || clickPans);
        if (tap) {
          if (!panning && pointer.button === 0) tool.click({ x, y }, pointer.shiftKey);
        } else if (pans) {
          actions.pan(dx * density, dy * density);
        } else {
          const start = onSheet(...initial);
          const { shiftKey: shift, altKey: alt } = pointer;
          // What the pointer did between two frames counts too, so that a quick curve stays one.
          const between = first || last ? [] : betweenFrames(pointer);
          for (const step of between)
            tool.drag?.(start, onSheet(step.clientX, step.clientY), {
              first: false,
              last: false,
              shift,
              alt,
              pressure: pressureOf(step),
            });
          tool.drag?.(start, { x, y }, { first, last, shift, alt, pressure: pressureOf(pointer) });
        }
        return pans;
      },
      onDoubleClick: () => {
        if (tool.cursor === 'grab') actions.fit();
      },
    },
    {
      target: area,
      eventOptions: { passive: false },
      drag: { filterTaps: true, pointer: { buttons: [1, 4], keys: false } },
      pinch: { pinchOnWheel: true, scaleBounds: { min: 0.001, max: 1000 } },
    },
  );
  return { panning };
}

/** The places of a pointer since the last frame, without the newest one. */
function betweenFrames(event: PointerEvent): PointerEvent[] {
  return typeof event.getCoalescedEvents === 'function' ? event.getCoalescedEvents().slice(0, -1) : [];
}

function pressureOf({ pointerType, pressure }: PointerEvent): number | null {
  return pointerType === 'pen' ? pressure : null;
}

/** A mouse's wheel turns in whole notches of one axis; two fingers on a trackpad do not. */
function isTrackpad(event: WheelEvent): boolean {
  if (event.deltaMode !== 0) return false;
  return event.deltaX !== 0 || !Number.isInteger(event.deltaY) || Math.abs(event.deltaY) < 40;
}

function pixelsOf(event: WheelEvent): number {
  return event.deltaY * (event.deltaMode === 1 ? 33 : event.deltaMode === 2 ? 400 : 1);
}

function useSpaceHeld(): boolean {
  const [held, setHeld] = useState(false);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (
        event.code !== 'Space' ||
        (event.target as HTMLElement).closest('button, input, textarea, a, [role=slider]')
      )
        return;
      event.preventDefault();
      setHeld(true);
    };
    const up = (event: KeyboardEvent) => {
      if (event.code === 'Space') setHeld(false);
    };
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
    };
  }, []);
  return held;
}
