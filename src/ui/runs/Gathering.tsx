'use client';

import { Button, Progress } from '@mantine/core';
import { useMemo, useState } from 'react';
import { counted } from '../../core/findings/finding';
import { IntakeList } from '../shelf/IntakeList';
import { useIntake } from '../shelf/use-intake';
import classes from './runs.module.css';

/** What was brought for a run so far. */
export function useGathered({ asPhotos = false }: { readonly asPhotos?: boolean } = {}) {
  const [noArrival] = useState(() => () => undefined);
  const intake = useIntake(noArrival, { keepsDone: true, asPhotos });
  const { entries } = intake;
  return useMemo(() => {
    const pieces = entries.flatMap(({ state }) =>
      state.kind === 'done' ? state.arrived.map(({ piece }) => piece.id) : [],
    );
    const refused = entries.flatMap(({ file, state }) =>
      state.kind === 'refused' ? [{ name: file.name, message: state.message }] : [],
    );
    const over = entries.filter(({ state }) => state.kind === 'done' || state.kind === 'refused').length;
    return {
      intake,
      pieces: [...new Set(pieces)],
      refused,
      travelling: entries.length - over,
      all: entries.length,
    };
  }, [entries, intake]);
}

/** How far it has come in: one line for all, and one for each that needs an answer or was refused. */
export function Gathering({
  gathered: { intake, pieces, refused, travelling, all },
  selected,
  onForget,
}: {
  readonly gathered: ReturnType<typeof useGathered>;
  readonly selected: number;
  readonly onForget: () => void;
}) {
  const told = intake.entries.filter(({ state }) => state.kind === 'refused' || state.kind === 'choosing');
  if (all === 0 && selected === 0) return null;
  return (
    <div className={classes.gathering}>
      {selected > 0 && (
        <p>
          {counted(selected, 'piece')} selected on the Shelf.{' '}
          <Button size="compact-xs" variant="default" onClick={onForget}>
            Leave them out
          </Button>
        </p>
      )}
      {all > 0 && (
        <>
          <p aria-live="polite">
            {counted(pieces.length, 'picture')} brought
            {travelling > 0 ? `, ${travelling} coming in` : ''}
            {refused.length > 0 ? `, ${refused.length} refused: they stand in the run as failed` : ''}.
          </p>
          {travelling > 0 && (
            <Progress value={(100 * (all - travelling)) / all} size={4} aria-label="Coming in" />
          )}
          <IntakeList
            entries={told.slice(0, MOST_TOLD)}
            onAccept={intake.acceptDamaged}
            onChoose={intake.choose}
            onCancel={intake.cancel}
            onDismiss={intake.dismiss}
          />
        </>
      )}
    </div>
  );
}

/** Refused files that are told one by one; all of them stand in the run. */
const MOST_TOLD = 20;
