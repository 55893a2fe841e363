import { SegmentedControl, Switch, UnstyledButton } from '@mantine/core';
import type { EdgeMode, Shown } from '../../bench/bench-store';
import { LIMITS, type EdgeNumber } from '../../core/cut/schema';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { SliderField } from './SliderField';
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
        onChange={({ currentTarget }) => actions.changeEdge({ on: currentTarget.checked })}
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
  const edge = useBench((state) => state.cut.edge);
  const actions = useBenchActions();
  const offsetNote = useOffsetNote(edge.offsetPx);
  const softnessNote = useSoftnessNote(edge.softnessPx);
  const field = (name: Exclude<EdgeNumber, 'widthPx'>) => ({
    value: edge[name],
    ...LIMITS[name],
    onDraft: (value: number) => actions.draftEdge({ [name]: value }),
    onCommit: (value: number) => actions.changeEdge({ [name]: value }),
  });
  const pixels = { step: 0.1, nudge: 0.1, suffix: ' px' };
  return (
    <div className={classes.fields}>
      <SliderField label="Offset" {...field('offsetPx')} {...pixels} note={offsetNote} />
      <SliderField label="Softness" {...field('softnessPx')} {...pixels} note={softnessNote} />
      <SliderField
        label="Evenness"
        {...field('evenness')}
        step={1}
        note="irons out stair-steps and wobble; corners stay"
      />
      <SliderField label="Firmness" {...field('firmness')} step={1} note="makes the transition steeper" />
      <SliderField
        label="Spill"
        {...field('spill')}
        step={1}
        suffix=" %"
        note="how much of the old background leaves the colors"
      />
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
          actions.changeEdge({ widthPx: currentTarget.checked ? null : STARTING_WIDTH })
        }
      />
      {widthPx !== null && (
        <div className={classes.under}>
          <SliderField
            label="Width"
            value={widthPx}
            {...LIMITS.widthPx}
            step={1}
            suffix=" px"
            note="on either side of the border"
            onDraft={(value) => actions.draftEdge({ widthPx: Math.round(value) })}
            onCommit={(value) => actions.changeEdge({ widthPx: Math.round(value) })}
          />
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
            min={2 * LIMITS.brushPx.min}
            max={2 * LIMITS.brushPx.max}
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
  if (strokes.length >= LIMITS.fineDetail)
    return (
      <p className={classes.note} role="status">
        A cut holds at most {LIMITS.fineDetail} strokes.{' '}
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
