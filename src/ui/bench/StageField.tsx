import { Switch } from '@mantine/core';
import { settingsOf, type Cut } from '../../core/cut/schema';
import type { Stage } from '../../core/stages/stage';
import type { StageKey } from '../../core/stages/stages';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { SliderField } from './SliderField';

interface FieldProps<S> {
  readonly stage: Stage<string, S>;
  /** One of the stage's fields. */
  readonly name: keyof S & string;
  /** A few words under the slider, instead of what the field says. */
  readonly note?: string;
}

/** A number of a stage with its slider: its range, unit and words are those of the stage's field. */
export function StageField<S>({ stage, name, note }: FieldProps<S>) {
  const field = stage.fields[name]!;
  const value = useBench(({ cut }) => settingsOf(cut, stage)[name]);
  const actions = useBenchActions();
  if (typeof value !== 'number') return null;
  const { label, min, max, step = 1, unit, whole } = field;
  const patch = (raw: number) => ({ [name]: whole ? Math.round(raw) : raw }) as Partial<Cut[StageKey]>;
  const words = note ?? field.note;
  return (
    <SliderField
      label={label}
      value={value}
      min={min}
      max={max}
      step={step}
      nudge={step < 1 ? 0.1 : step}
      {...(unit ? { suffix: unit === '°' ? unit : ` ${unit}` } : {})}
      {...(words ? { note: words } : {})}
      onDraft={(raw) => actions.draft(stage.key as StageKey, patch(raw))}
      onCommit={(raw) => actions.change(stage.key as StageKey, patch(raw))}
    />
  );
}

/** What a stage shows that has no panel of its own: its switch and its numbers. */
export function StagePanel({ stage }: { readonly stage: Stage }) {
  const on = useBench(({ cut }) => (settingsOf(cut, stage) as { readonly on?: boolean }).on ?? true);
  const actions = useBenchActions();
  return (
    <>
      {stage.switched && (
        <Switch
          label={`${stage.name} is on`}
          checked={on}
          onChange={({ currentTarget }) =>
            actions.change(stage.key as StageKey, { on: currentTarget.checked })
          }
        />
      )}
      <div className={classes.fields}>
        {Object.keys(stage.fields).map((name) => (
          <StageField key={name} stage={stage as Stage<string, Record<string, unknown>>} name={name} />
        ))}
      </div>
    </>
  );
}
