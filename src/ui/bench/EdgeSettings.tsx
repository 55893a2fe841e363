import { SegmentedControl, Switch } from '@mantine/core';
import { LIMITS, type Edge } from '../../core/cut/schema';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { SliderField } from './SliderField';

/** The Edge stage: alpha and color along the border, estimated from the mixture, and how the edge is shaped. */
export function EdgeSettings() {
  const edge = useBench((state) => state.cut.edge);
  const actions = useBenchActions();
  const offsetNote = useOffsetNote(edge.offsetPx);
  const softnessNote = useSoftnessNote(edge.softnessPx);
  const field = (name: Exclude<keyof Edge, 'on'>) => ({
    value: edge[name],
    ...LIMITS[name],
    onDraft: (value: number) => actions.draftEdge({ [name]: value }),
    onCommit: (value: number) => actions.changeEdge({ [name]: value }),
  });
  return (
    <>
      <ShowControl />
      <Switch
        label="Estimate edges from the mixture"
        checked={edge.on}
        onChange={({ currentTarget }) => actions.changeEdge({ on: currentTarget.checked })}
      />
      {edge.on ? (
        <div className={classes.fields}>
          <SliderField
            label="Offset"
            {...field('offsetPx')}
            step={0.1}
            nudge={0.1}
            suffix=" px"
            note={offsetNote}
          />
          <SliderField
            label="Softness"
            {...field('softnessPx')}
            step={0.1}
            nudge={0.1}
            suffix=" px"
            note={softnessNote}
          />
          <SliderField
            label="Evenness"
            {...field('evenness')}
            step={1}
            note="irons out stair-steps and wobble; corners stay"
          />
          <SliderField label="Firmness" {...field('firmness')} step={1} note="makes the transition steeper" />
        </div>
      ) : null}
      <p className={classes.soft}>
        {edge.on
          ? 'Along the border each pixel is part subject, part background: alpha is how much of the subject is in it, and the background’s share is taken out of its color.'
          : 'Switched off, alpha rises in a short ramp just beyond the tolerance.'}
      </p>
    </>
  );
}

/** What the sheet shows of the result. */
function ShowControl() {
  const alphaView = useBench((state) => state.alphaView);
  const actions = useBenchActions();
  return (
    <div>
      <span className={classes.label} id="show-label">
        The sheet shows
      </span>
      <SegmentedControl
        fullWidth
        aria-labelledby="show-label"
        value={alphaView ? 'alpha' : 'result'}
        onChange={(value) => actions.setAlphaView(value === 'alpha')}
        data={[
          { value: 'result', label: 'The result' },
          { value: 'alpha', label: 'Alpha alone' },
        ]}
      />
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
