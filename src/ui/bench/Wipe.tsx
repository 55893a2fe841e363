import { useDrag } from '@use-gesture/react';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** How far an arrow key moves the line, as a share of the width. */
const STEP = 0.02;

/** What separates original and result: a line that can be drawn across, or the middle of two halves. */
export function Wipe({ density }: { readonly density: number }) {
  const comparing = useBench((state) => state.comparing);
  const prepares = useBench((state) => state.stage === 'prepare');
  if (comparing === 'none' || prepares) return null;
  return comparing === 'wipe' ? <Line density={density} /> : <Middle density={density} />;
}

function Line({ density }: { readonly density: number }) {
  const wipe = useBench((state) => state.wipe);
  const width = useBench((state) => state.sheetWidth) / density;
  const actions = useBenchActions();
  const bind = useDrag(
    ({ delta: [dx], memo }) => {
      const now = ((memo as number | undefined) ?? wipe) + dx / Math.max(1, width);
      actions.setWipe(now);
      return now;
    },
    { pointer: { keys: false } },
  );
  const steps: Record<string, number> = { ArrowLeft: -STEP, ArrowRight: STEP, Home: -1, End: 1 };
  return (
    <div
      {...bind()}
      className={classes.wipe}
      style={{ left: wipe * width }}
      role="slider"
      tabIndex={0}
      aria-label="Line between original and result"
      aria-orientation="horizontal"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(wipe * 100)}
      onKeyDown={(event) => {
        const step = steps[event.key];
        if (step === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        actions.setWipe(wipe + step);
      }}
    >
      <Names />
    </div>
  );
}

function Middle({ density }: { readonly density: number }) {
  const width = useBench((state) => state.view.width) / density;
  return (
    <div className={classes.wipe} data-still style={{ left: width }}>
      <Names />
    </div>
  );
}

function Names() {
  return (
    <>
      <span className={classes.wipeName} data-side="left">
        original
      </span>
      <span className={classes.wipeName} data-side="right">
        result
      </span>
    </>
  );
}
