import { useDrag } from '@use-gesture/react';
import { useEffect, useRef } from 'react';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Size of the overview in CSS pixels; that of the engine's small pictures. */
const SIZE = { width: 168, height: 92 };

/** The whole piece, small, with a frame around what the sheet shows; only while it does not show all of it. */
export function Overview() {
  const hidden = useBench(({ view, frame: { crop }, pictures, stage }) => {
    const all =
      view.left >= 0 &&
      view.top >= 0 &&
      view.left + crop.width * view.scale <= view.width &&
      view.top + crop.height * view.scale <= view.height;
    return all || !pictures || stage === 'prepare';
  });
  return hidden ? null : <Shown />;
}

function Shown() {
  const picture = useBench((state) => state.pictures!.deliver);
  const view = useBench((state) => state.view);
  const crop = useBench((state) => state.frame.crop);
  const actions = useBenchActions();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    canvas.current!.width = picture.width;
    canvas.current!.height = picture.height;
    canvas.current!.getContext('2d', { alpha: false })?.drawImage(picture, 0, 0);
  }, [picture]);
  const times = Math.min(SIZE.width / crop.width, SIZE.height / crop.height);
  const startX = (SIZE.width - crop.width * times) / 2;
  const startY = (SIZE.height - crop.height * times) / 2;
  const bind = useDrag(({ event, xy: [x, y] }) => {
    event.stopPropagation();
    const box = canvas.current!.getBoundingClientRect();
    actions.lookAt((x - box.left - startX) / times, (y - box.top - startY) / times);
  });
  const left = Math.max(0, startX - (view.left / view.scale) * times);
  const top = Math.max(0, startY - (view.top / view.scale) * times);
  const right = Math.min(SIZE.width, startX + ((view.width - view.left) / view.scale) * times);
  const bottom = Math.min(SIZE.height, startY + ((view.height - view.top) / view.scale) * times);
  return (
    <div {...bind()} className={classes.overview} aria-hidden="true">
      <canvas ref={canvas} />
      <span style={{ left, top, width: Math.max(3, right - left), height: Math.max(3, bottom - top) }} />
    </div>
  );
}
