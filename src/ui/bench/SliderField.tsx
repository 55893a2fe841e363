import { Slider } from '@mantine/core';
import { useId } from 'react';
import classes from './bench.module.css';
import { NumberField } from './NumberField';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** What one press of an arrow key adds in the field. */
  readonly nudge?: number;
  readonly suffix?: string;
  /** A few words under the slider. */
  readonly note?: React.ReactNode;
  /** Called all the time while the slider moves. */
  readonly onDraft: (value: number) => void;
  /** Called when it rests: this is one step of undo. */
  readonly onCommit: (value: number) => void;
}

/** A number with a slider and a field to type it into. */
export function SliderField({
  label,
  value,
  min,
  max,
  step,
  nudge = 1,
  suffix,
  note,
  onDraft,
  onCommit,
}: Props) {
  const id = useId();
  const rounded = (raw: number) => Math.round(raw / step) / Math.round(1 / step);
  return (
    <div>
      <div className={classes.sliderHead}>
        <label htmlFor={id} className={classes.label}>
          {label}
        </label>
        <NumberField
          id={id}
          className={classes.sliderNumber}
          value={value}
          min={min}
          max={max}
          step={nudge}
          decimalScale={2}
          {...(suffix ? { suffix } : {})}
          onDraft={onDraft}
          onCommit={onCommit}
        />
      </div>
      <Slider
        thumbLabel={label}
        label={null}
        size={4}
        startPointValue={0}
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={(raw) => onDraft(rounded(raw))}
        onChangeEnd={(raw) => onCommit(rounded(raw))}
      />
      {note ? <span className={classes.hint}>{note}</span> : null}
    </div>
  );
}
