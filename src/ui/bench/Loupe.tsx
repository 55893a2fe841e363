import { useEffect, useRef } from 'react';
import type { Magnified } from '../../engine/protocol';
import { useBench, useBenchStore } from './bench-context';
import classes from './bench.module.css';

/** How much the loupe enlarges, and the side of each of its two pictures in CSS pixels. */
const TIMES = 8;
const SIDE = 168;

/** Keeps away from the pointer: the loupe changes sides when the pointer comes this near, in CSS pixels. */
const NEAR = 24;

/** Original and result around the pointer, side by side, over the backing that is shown. */
export function Loupe({ density }: { readonly density: number }) {
  const open = useBench((state) => state.loupe);
  return open ? <OpenLoupe density={density} /> : null;
}

function OpenLoupe({ density }: { readonly density: number }) {
  const pointer = useBench((state) => state.pointer);
  const left = useBench(({ view, pointer: at }) => isUnder(view, at, density));
  const original = useRef<HTMLCanvasElement>(null);
  const result = useRef<HTMLCanvasElement>(null);
  const state = useMagnified(density, (found) => {
    draw(original.current, found, 'original');
    draw(result.current, found, 'result');
  });
  return (
    <aside className={classes.loupe} data-left={left || undefined} data-at={state} aria-label="Loupe">
      {pointer ? null : <p>Point at the sheet, or move the crosshair.</p>}
      <figure hidden={!pointer}>
        <canvas ref={original} style={{ width: SIDE, height: SIDE }} />
        <figcaption>original</figcaption>
      </figure>
      <figure hidden={!pointer}>
        <canvas ref={result} style={{ width: SIDE, height: SIDE }} />
        <figcaption>result, {TIMES} x</figcaption>
      </figure>
    </aside>
  );
}

/** Asks for the surroundings of the pointer whenever they may have changed, one request at a time. */
function useMagnified(density: number, show: (found: Magnified) => void): string | undefined {
  const { actions } = useBenchStore();
  const pointer = useBench((state) => state.pointer);
  const cut = useBench((state) => state.cut);
  const backing = useBench((state) => state.backing);
  const exact = useBench((state) => state.exact);
  const asked = useRef(0);
  const shown = useRef(show);
  useEffect(() => {
    shown.current = show;
  });
  const x = pointer?.x;
  const y = pointer?.y;
  useEffect(() => {
    if (x === undefined || y === undefined) return;
    const turn = ++asked.current;
    void actions.magnify(TIMES * density, Math.round(SIDE * density)).then((found) => {
      if (found && turn === asked.current) shown.current(found);
    });
  }, [actions, density, x, y, cut, backing, exact]);
  return x === undefined ? undefined : `${x},${y}`;
}

function draw(canvas: HTMLCanvasElement | null, found: Magnified, part: 'original' | 'result'): void {
  if (!canvas) return;
  canvas.width = found.side;
  canvas.height = found.side;
  canvas.getContext('2d', { alpha: false })?.putImageData(new ImageData(found[part], found.side), 0, 0);
}

/** Whether the pointer is where the loupe lies at first, in the upper right corner. */
function isUnder(
  view: { readonly scale: number; readonly left: number; readonly top: number; readonly width: number },
  at: { readonly x: number; readonly y: number } | null,
  density: number,
): boolean {
  if (!at) return false;
  const x = (view.width - at.x * view.scale - view.left) / density;
  const y = (at.y * view.scale + view.top) / density;
  return x < 2 * SIDE + 2 * NEAR && y < SIDE + 2 * NEAR + 20;
}
