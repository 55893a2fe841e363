import { ActionIcon, Button, Progress } from '@mantine/core';
import { IconAlertTriangle, IconCheck, IconX } from '@tabler/icons-react';
import Link from 'next/link';
import type { UploadState } from '../../bench/upload';
import classes from './shelf.module.css';
import type { IntakeEntry } from './use-intake';

interface Props {
  readonly entries: readonly IntakeEntry[];
  readonly onAccept: (entry: IntakeEntry) => void;
  readonly onCancel: (id: number) => void;
  readonly onDismiss: (id: number) => void;
}

/** What became of each file that was brought. */
export function IntakeList({ entries, onAccept, onCancel, onDismiss }: Props) {
  if (entries.length === 0) return null;
  return (
    <ul className={classes.arrivals} aria-live="polite">
      {entries.map((entry) => {
        const { id, file, state } = entry;
        const { name } = file;
        const over = state.kind === 'done' || state.kind === 'refused';
        return (
          <li key={id} className={classes.arrival} data-kind={state.kind}>
            <Line name={name} state={state} />
            {state.kind === 'refused' && state.wayOut === 'accept-damaged' && (
              <Button
                size="compact-xs"
                variant="default"
                aria-label={`Take what can be read of ${name}`}
                onClick={() => onAccept(entry)}
              >
                Take what can be read
              </Button>
            )}
            <ActionIcon
              aria-label={over ? `Dismiss the note about ${name}` : `Cancel ${name}`}
              onClick={() => (over ? onDismiss(id) : onCancel(id))}
            >
              <IconX size={15} stroke={1.8} />
            </ActionIcon>
          </li>
        );
      })}
    </ul>
  );
}

function Line({ name, state }: { readonly name: string; readonly state: UploadState }) {
  switch (state.kind) {
    case 'waiting':
      return <Bar name={name} words="waiting" percent={0} />;
    case 'sending':
      return <Bar name={name} words={`${state.percent} %`} percent={state.percent} />;
    case 'reading':
      return <Bar name={name} words="reading the picture" percent={100} />;
    case 'refused':
      return (
        <span className={classes.arrivalText}>
          <IconAlertTriangle size={16} stroke={1.8} aria-label="Refused" />
          {state.message}
        </span>
      );
    case 'done':
      return (
        <span className={classes.arrivalText}>
          <IconCheck size={16} stroke={1.8} aria-label="Done" />
          <span>
            <Link href={`/bench/${state.piece.id}`}>{state.piece.name}</Link> {arrivalWords(state, name)}
          </span>
        </span>
      );
  }
}

function arrivalWords(
  { piece, known, healed }: Extract<UploadState, { kind: 'done' }>,
  name: string,
): string {
  if (healed) return 'is whole again: its original was lost or changed, and these are its bytes.';
  if (known) return `is on the Shelf already (these bytes came as ${name}).`;
  return ['is on the Shelf.', ...piece.notes].join(' ');
}

function Bar({
  name,
  words,
  percent,
}: {
  readonly name: string;
  readonly words: string;
  readonly percent: number;
}) {
  return (
    <span className={classes.arrivalBar}>
      <span className={classes.arrivalName}>{name}</span>
      <Progress value={percent} size={4} aria-label={`${name}: ${words}`} />
      <span className={classes.arrivalWords}>{words}</span>
    </span>
  );
}
