import { TextInput } from '@mantine/core';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';
import classes from './shelf.module.css';

interface Props {
  readonly piece: ShelfPieceFacts;
  readonly renaming: boolean;
  /** Called when it is over; `changed` where there is another name now. */
  readonly onDone: (changed: boolean) => void;
}

/** A piece's name, or the field to give it another. */
export function CardName({ piece, renaming, onDone }: Props) {
  if (renaming) return <NameField piece={piece} onDone={onDone} />;
  return (
    <Link href={`/bench/${piece.id}`} className={classes.name} title={piece.name} prefetch={false}>
      {piece.name}
    </Link>
  );
}

function NameField({ piece, onDone }: Omit<Props, 'renaming'>) {
  const [typed, setTyped] = useState(piece.name);
  const [problem, setProblem] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const over = useRef(false);
  useEffect(() => {
    // Behind the menu that led here, which takes the focus along when it closes.
    const frame = requestAnimationFrame(() => field.current?.focus());
    return () => cancelAnimationFrame(frame);
  }, []);
  const end = (changed: boolean) => {
    over.current = true;
    onDone(changed);
  };
  const save = async () => {
    if (over.current) return;
    const name = typed.trim();
    if (name === '') return setProblem('A piece needs a name.');
    if (name === piece.name) return end(false);
    try {
      await api.rename(piece.id, name);
      end(true);
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <TextInput
      className={classes.rename}
      aria-label={`Name of ${piece.name}`}
      ref={field}
      maxLength={200}
      value={typed}
      error={problem}
      onFocus={({ currentTarget }) => currentTarget.select()}
      onChange={({ currentTarget }) => setTyped(currentTarget.value)}
      onBlur={() => void save()}
      onKeyDown={(event) => {
        if (event.key === 'Enter') void save();
        if (event.key === 'Escape') end(false);
      }}
    />
  );
}
