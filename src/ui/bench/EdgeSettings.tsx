import { EDGE, MOST_STROKES } from '../../core/stages/edge/settings';
import { StageField } from './StageField';
import { SegmentedControl, Switch, UnstyledButton } from '@mantine/core';
import type { EdgeMode, Shown } from '../../bench/bench-state';
import { BRUSH_PX } from '../../core/stages/shapes';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { StrokeList } from './StrokeList';

/** The width that a hand starts from: that of the ordinary band. */
const STARTING_WIDTH = 3;

/** The Edge stage: alpha and color along the border, estimated from the mixture, and how the edge is shaped. */
export function EdgeSettings() {
  const edge = useBench((state) => state.cut.edge);
  const actions = useBenchActions();
  return (
    <>
      <PointerControl />
      <ShowControl />
      <Switch
        label="Estimate edges from the mixture"
        checked={edge.on}
        onChange={({ currentTarget }) => actions.change('edge', { on: currentTarget.checked })}
      />
      {edge.on ? <EdgeFields /> : null}
      <p className={classes.soft}>
        {edge.on
          ? 'Along the border each pixel is part subject, part background: alpha is how much of the subject is in it, and the background’s share is taken out of its color.'
          : 'Switched off, alpha rises in a short ramp just beyond the tolerance.'}
      </p>
    </>
  );
}

function EdgeFields() {
  const { offsetPx, softnessPx } = useBench((state) => state.cut.edge);
  return (
    <div className={classes.fields}>
      <StageField stage={EDGE} name="offsetPx" note={useOffsetNote(offsetPx)} />
      <StageField stage={EDGE} name="softnessPx" note={useSoftnessNote(softnessPx)} />
      <StageField stage={EDGE} name="evenness" />
      <StageField stage={EDGE} name="firmness" />
      <StageField stage={EDGE} name="spill" />
      <WidthField />
    </div>
  );
}

/** How far on either side of the border pixels may be mixtures: found at each place, or set. */
function WidthField() {
  const widthPx = useBench((state) => state.cut.edge.widthPx);
  const actions = useBenchActions();
  return (
    <div>
      <Switch
        label="Find the edge’s width at each place"
        checked={widthPx === null}
        onChange={({ currentTarget }) =>
          actions.change('edge', { widthPx: currentTarget.checked ? null : STARTING_WIDTH })
        }
      />
      {widthPx !== null && (
        <div className={classes.under}>
          <StageField stage={EDGE} name="widthPx" />
        </div>
      )}
    </div>
  );
}

/** What the pointer does on the sheet, and the strokes that were painted. */
function PointerControl() {
  const mode = useBench((state) => state.edgeMode);
  const on = useBench((state) => state.cut.edge.on);
  const brushPx = useBench((state) => state.brushPx);
  const actions = useBenchActions();
  return (
    <div>
      <span className={classes.label} id="edge-pointer-label">
        A drag on the sheet
      </span>
      <SegmentedControl<EdgeMode>
        fullWidth
        aria-labelledby="edge-pointer-label"
        value={mode}
        disabled={!on}
        onChange={(value) => actions.setEdgeMode(value)}
        data={[
          { value: 'move', label: 'Moves it' },
          { value: 'paint', label: 'Paints fine detail' },
        ]}
      />
      {on && mode === 'paint' && (
        <div className={classes.under}>
          <p className={classes.hint}>
            Paint over hair, fur or threads that were cleared or came out full: there every pixel is solved.
          </p>
          <NumberField
            label="Brush"
            description="Smaller and larger with [ and ]"
            suffix=" px"
            min={2 * BRUSH_PX.min}
            max={2 * BRUSH_PX.max}
            value={brushPx}
            onCommit={(value) => actions.setBrush(value)}
          />
          <FineDetailList />
        </div>
      )}
    </div>
  );
}

function FineDetailList() {
  const strokes = useBench((state) => state.cut.edge.fineDetail);
  const actions = useBenchActions();
  if (strokes.length >= MOST_STROKES)
    return (
      <p className={classes.note} role="status">
        A cut holds at most {MOST_STROKES} strokes.{' '}
        <UnstyledButton className={classes.plainLink} onClick={actions.deleteStrokes}>
          Delete all
        </UnstyledButton>
      </p>
    );
  return (
    <StrokeList
      name="stroke"
      strokes={strokes}
      onDelete={actions.deleteStroke}
      onDeleteAll={actions.deleteStrokes}
    />
  );
}

/** What the sheet shows of the result. */
function ShowControl() {
  const shown = useBench((state) => state.shown);
  const actions = useBenchActions();
  return (
    <div>
      <span className={classes.label} id="show-label">
        The sheet shows
      </span>
      <SegmentedControl<Shown>
        fullWidth
        aria-labelledby="show-label"
        value={shown}
        onChange={(value) => actions.setShown(value)}
        data={[
          { value: 'result', label: 'Result' },
          { value: 'alpha', label: 'Alpha' },
          { value: 'edge', label: 'Edge' },
        ]}
      />
      {shown === 'edge' && (
        <span className={classes.hint}>
          Only what is solved as a mixture. Hatched is what is certain: falling lines cleared, rising lines
          subject.
        </span>
      )}
    </div>
  );
}

/** Which way the edge is moved, and how far in millimeters where the resolution is known. */
function useOffsetNote(px: number): string {
  const dpi = useBench((state) => state.piece.dpi);
  if (px === 0) return 'inward below 0, outward above';
  const way = px < 0 ? 'inward' : 'outward';
  return dpi ? `${millimeters(Math.abs(px), dpi)} ${way}` : way;
}

function useSoftnessNote(px: number): string {
  const dpi = useBench((state) => state.piece.dpi);
  return `width of the transition${dpi && px > 0 ? `, ${millimeters(px, dpi)}` : ''}`;
}

function millimeters(px: number, dpi: number): string {
  return `${((px / dpi) * 25.4).toFixed(2)} mm at ${Math.round(dpi)} dpi`;
}
