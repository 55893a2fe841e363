import { useIntersection } from '@mantine/hooks';
import { useEffect, useState } from 'react';
import type { ShelfPieceFacts } from '../../bench/api';
import { PieceCard } from './PieceCard';
import classes from './shelf.module.css';
import type { Selection } from './use-selection';

/** Cards that are made at a time: more than a large screen shows. */
const AT_A_TIME = 60;

interface Props {
  readonly pieces: readonly ShelfPieceFacts[];
  readonly selection: Selection;
  readonly onDiscard: (ids: readonly string[]) => Promise<void>;
  readonly onChanged: () => void;
}

/** The pieces as cards; those farther down are made when the end of those before comes into sight. */
export function PieceGrid({ pieces, selection, onDiscard, onChanged }: Props) {
  const [made, setMade] = useState(AT_A_TIME);
  return (
    <>
      <ul className={classes.grid}>
        {pieces.slice(0, made).map((piece) => (
          <PieceCard
            key={piece.id}
            piece={piece}
            selected={selection.ids.has(piece.id)}
            onSelect={selection.toggle}
            onDiscard={onDiscard}
            onChanged={onChanged}
          />
        ))}
      </ul>
      {made < pieces.length && <End key={made} onSeen={() => setMade(made + AT_A_TIME)} />}
    </>
  );
}

/** Tells once that it is seen. */
function End({ onSeen }: { readonly onSeen: () => void }) {
  const { ref, entry } = useIntersection();
  const isSeen = entry?.isIntersecting ?? false;
  useEffect(() => {
    if (isSeen) onSeen();
    // Once for each end; what happens then is that of the moment.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [isSeen]);
  return <div ref={ref} className={classes.end} aria-hidden="true" />;
}
