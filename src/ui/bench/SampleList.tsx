import { ActionIcon, Button, Switch, Tooltip, UnstyledButton } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { memo } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Rgb } from '../../core/stages/clear/sample-color';
import { formatNumber } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const hex = ({ red, green, blue }: Rgb) =>
  `#${[red, green, blue].map((value) => value.toString(16).padStart(2, '0')).join('')}`;

/** The samples of the cut; one of them is chosen. */
export function SampleList() {
  const ids = useBench(useShallow((state) => state.cut.clear.samples.map(({ id }) => id)));
  return (
    <>
      <ul className={classes.samples} aria-label="Samples">
        {ids.map((id, index) => (
          <SampleRow key={id} id={id} number={index + 1} />
        ))}
      </ul>
      <IdleSamples />
    </>
  );
}

/** Points out samples without which the same would be cleared. */
function IdleSamples() {
  const idle = useBench(
    useShallow(({ open, cut }) => {
      const places = open.find(({ kind }) => kind === 'idle-sample')?.places ?? [];
      const ids = places.map(({ sample }) => sample!.id);
      return ids.filter((id) => cut.clear.samples.some((sample) => sample.id === id));
    }),
  );
  const numbers = useBench(
    useShallow(({ cut }) => idle.map((id) => cut.clear.samples.findIndex((sample) => sample.id === id) + 1)),
  );
  const actions = useBenchActions();
  return idle.map((id, k) => (
    <p key={id} className={classes.idle}>
      <span>Without sample {numbers[k]} the same would be cleared.</span>
      <Button size="compact-xs" variant="default" onClick={() => actions.deleteSample(id)}>
        Delete it
      </Button>
    </p>
  ));
}

/** One sample. Only its figures render again while a slider moves. */
const SampleRow = memo(function SampleRow({ id, number }: { readonly id: string; readonly number: number }) {
  const on = useBench((state) => state.cut.clear.samples.find((sample) => sample.id === id)?.on ?? false);
  const chosen = useBench((state) => state.selected === id);
  const actions = useBenchActions();
  return (
    <li data-chosen={chosen || undefined} data-off={!on || undefined}>
      <UnstyledButton
        className={classes.sampleButton}
        aria-pressed={chosen}
        onClick={() => actions.select(id)}
      >
        <span className={classes.sampleNumber}>{number}</span>
        <SampleFigures id={id} />
      </UnstyledButton>
      <Tooltip label={on ? 'Switch this sample off' : 'Switch this sample on'}>
        <Switch
          checked={on}
          aria-label={`Sample ${number} is on`}
          onChange={({ currentTarget }) => actions.changeSample(id, { on: currentTarget.checked })}
        />
      </Tooltip>
      <Tooltip label="Delete this sample">
        <ActionIcon size={24} aria-label={`Delete sample ${number}`} onClick={() => actions.deleteSample(id)}>
          <IconTrash size={15} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
    </li>
  );
});

function SampleFigures({ id }: { readonly id: string }) {
  const sample = useBench((state) => state.cut.clear.samples.find((one) => one.id === id));
  const color = useBench((state) => {
    const curve = state.curves.find(({ sampleId }) => sampleId === id);
    return curve ? hex(curve.color) : null;
  });
  if (!sample) return null;
  return (
    <>
      <span className={classes.sampleColor} style={{ background: color ?? 'transparent' }} />
      <span>{color ?? 'reading'}</span>
      <span className={classes.soft}>
        {sample.rule === 'whole' ? 'whole picture' : `${formatNumber(sample.tolerance)} ${sample.reach}`}
      </span>
    </>
  );
}
