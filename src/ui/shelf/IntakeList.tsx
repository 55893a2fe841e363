import { ActionIcon, Button, Progress } from '@mantine/core';
import { IconAlertTriangle, IconCheck, IconX } from '@tabler/icons-react';
import Link from 'next/link';
import { useState } from 'react';
import type { ArrivedFacts, UploadState } from '../../bench/upload';
import { fold, foldedWords } from './folded';
import { PageStrip } from './PageStrip';
import classes from './shelf.module.css';
import type { IntakeEntry } from './use-intake';

interface Props {
  readonly entries: readonly IntakeEntry[];
  readonly onAccept: (entry: IntakeEntry) => void;
  readonly onChoose: (entry: IntakeEntry, pages: readonly number[], dpi: number | null) => void;
  readonly onCancel: (id: number) => void;
  readonly onDismiss: (ids: readonly number[]) => void;
}

/** What became of each file that was brought; many that came in without trouble are one line. */
export function IntakeList({ entries, onAccept, onChoose, onCancel, onDismiss }: Props) {
  const [unfolded, setUnfolded] = useState(false);
  if (entries.length === 0) return null;
  const { folded, listed } = fold(entries);
  return (
    <ul className={classes.arrivals} aria-live="polite">
      {folded.length > 0 && (
        <li className={classes.arrival} data-kind="done">
          <span className={classes.arrivalText}>
            <IconCheck size={16} stroke={1.8} aria-label="Done" />
            {foldedWords(folded, listed)}
          </span>
          <Button
            size="compact-xs"
            variant="default"
            aria-expanded={unfolded}
            onClick={() => setUnfolded(!unfolded)}
          >
            {unfolded ? 'Fold' : 'List them'}
          </Button>
          <ActionIcon
            aria-label="Dismiss the notes about what was brought in"
            onClick={() => onDismiss(folded.map(({ id }) => id))}
          >
            <IconX size={15} stroke={1.8} />
          </ActionIcon>
        </li>
      )}
      {(unfolded ? entries : listed).map((entry) => (
        <Arrival
          key={entry.id}
          entry={entry}
          onAccept={onAccept}
          onChoose={onChoose}
          onCancel={onCancel}
          onDismiss={onDismiss}
        />
      ))}
    </ul>
  );
}

function Arrival({
  entry,
  onAccept,
  onChoose,
  onCancel,
  onDismiss,
}: Omit<Props, 'entries'> & { readonly entry: IntakeEntry }) {
  const { id, file, state } = entry;
  const { name } = file;
  const over = state.kind === 'done' || state.kind === 'refused' || state.kind === 'choosing';
  return (
    <li className={classes.arrival} data-kind={state.kind}>
      {state.kind === 'choosing' ? (
        <PageStrip name={name} choice={state.choice} onChoose={(pages, dpi) => onChoose(entry, pages, dpi)} />
      ) : (
        <Line name={name} state={state} />
      )}
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
        onClick={() => (over ? onDismiss([id]) : onCancel(id))}
      >
        <IconX size={15} stroke={1.8} />
      </ActionIcon>
    </li>
  );
}

function Line({
  name,
  state,
}: {
  readonly name: string;
  readonly state: Exclude<UploadState, { kind: 'choosing' }>;
}) {
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
            {state.arrived.map((one) => (
              <span key={one.piece.id}>
                <Link href={`/bench/${one.piece.id}`}>{one.piece.name}</Link> {arrivalWords(one, name)}{' '}
              </span>
            ))}
          </span>
        </span>
      );
  }
}

function arrivalWords({ piece, known, healed }: ArrivedFacts, name: string): string {
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
