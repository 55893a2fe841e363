import { useEffect, useRef, useState } from 'react';
import type { AlikeUnder } from '../../engine/protocol';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Distance of the hatching's lines, and their width, in CSS pixels. */
const EVERY = 6;
const LINE = 3.4;

/** Hatches what a brush that takes only what is alike would take, were a stroke to begin at the pointer. */
export function AlikePreview({ density }: { readonly density: number }) {
  const { tool, alike, tolerance } = useBench((state) => state.hand);
  const over = useBench((state) => state.over);
  const isLed = useBench((state) => state.ledHand !== null);
  const brushPx = useBench((state) => state.brushPx);
  const view = useBench((state) => state.view);
  const actions = useBenchActions();
  const [found, setFound] = useState<AlikeUnder | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const shows = alike && (tool === 'clear' || tool === 'restore') && over !== null && !isLed;

  useEffect(() => {
    if (!shows) return undefined;
    let isOver = false;
    void actions.alikeUnder(over).then((under) => {
      if (!isOver) setFound(under);
    });
    return () => {
      isOver = true;
    };
  }, [actions, shows, over, tolerance, brushPx, view]);

  useEffect(() => {
    const target = canvas.current;
    const context = target?.getContext('2d');
    if (!target || !context || !found) return;
    const width = Math.max(1, Math.round((found.width * found.unit * view.scale) / density));
    const height = Math.max(1, Math.round((found.height * found.unit * view.scale) / density));
    target.width = width;
    target.height = height;
    const hatched = context.createImageData(width, height);
    for (let y = 0, p = 0; y < height; y++) {
      const row = Math.floor((y * found.height) / height) * found.width;
      for (let x = 0; x < width; x++, p += 4) {
        if (found.data[row + Math.floor((x * found.width) / width)] === 0) continue;
        const along = (x + y) % EVERY;
        if (along >= LINE) continue;
        const isDark = along >= 1 && along < LINE - 1;
        hatched.data.fill(isDark ? 0x1c : 0xff, p, p + 3);
        hatched.data[p + 3] = 255;
      }
    }
    context.putImageData(hatched, 0, 0);
  }, [found, view.scale, density]);

  if (!shows || !found) return null;
  return (
    <canvas
      ref={canvas}
      className={classes.alikePreview}
      data-alike={found.taken}
      aria-hidden="true"
      style={{
        left: (found.x * view.scale + view.left) / density,
        top: (found.y * view.scale + view.top) / density,
      }}
    />
  );
}
