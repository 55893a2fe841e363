import { useBench } from './bench-context';
import classes from './bench.module.css';

/** From this zoom on pixels are told apart by a grid. */
const FROM = 8;

/** Lines between the pixels, only where they are large. */
export function PixelGrid({ density }: { readonly density: number }) {
  const view = useBench((state) => state.view);
  const crop = useBench((state) => state.frame.crop);
  const beside = useBench((state) => state.comparing === 'beside' && state.stage !== 'prepare');
  if (view.scale <= FROM) return null;
  const left = Math.max(0, view.left);
  const top = Math.max(0, view.top);
  const right = Math.min(view.width, view.left + crop.width * view.scale);
  const bottom = Math.min(view.height, view.top + crop.height * view.scale);
  const style = {
    top: top / density,
    width: Math.max(0, right - left) / density,
    height: Math.max(0, bottom - top) / density,
    backgroundSize: `${view.scale / density}px ${view.scale / density}px`,
    backgroundPosition: `${(view.left - left) / density}px ${(view.top - top) / density}px`,
  };
  return (
    <>
      <div className={classes.grid} style={{ ...style, left: left / density }} aria-hidden="true" />
      {beside && (
        <div
          className={classes.grid}
          style={{ ...style, left: (left + view.width) / density }}
          aria-hidden="true"
        />
      )}
    </>
  );
}
