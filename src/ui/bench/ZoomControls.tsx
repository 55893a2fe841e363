import { Button, Tooltip } from '@mantine/core';
import { formatNumber } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Fit, 100 %, 400 %, and what the zoom is now. */
export function ZoomControls() {
  const scale = useBench((state) => state.view.scale);
  const fitted = useBench((state) => state.fitted);
  const actions = useBenchActions();
  return (
    <div className={classes.zoom} role="group" aria-label="Zoom">
      <span className={classes.zoomNow} aria-live="off">
        {formatNumber(scale * 100, scale < 0.1 ? 1 : 0)} %
      </span>
      <Button.Group>
        <Tooltip label="Fit the sheet (F, or double-click)">
          <Button size="xs" variant="default" aria-pressed={fitted} onClick={actions.fit}>
            Fit
          </Button>
        </Tooltip>
        <Tooltip label="Pixel for pixel (P)">
          <Button
            size="xs"
            variant="default"
            aria-pressed={!fitted && scale === 1}
            onClick={() => actions.zoomTo(1)}
          >
            100
          </Button>
        </Tooltip>
        <Tooltip label="Four screen pixels for one">
          <Button size="xs" variant="default" aria-pressed={scale === 4} onClick={() => actions.zoomTo(4)}>
            400
          </Button>
        </Tooltip>
      </Button.Group>
    </div>
  );
}
