'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import type { QuarantineFacts, ShelfPieceFacts } from '../../bench/api';
import { handOver } from '../../bench/runs-api';
import { ScreenHeader } from '../frame/ScreenHeader';
import { arranged, AS_THEY_CAME } from './arrange';
import { ArrangeBar } from './ArrangeBar';
import { Intake } from './Intake';
import { Notices } from './Notices';
import { PieceGrid } from './PieceGrid';
import { SelectionBar } from './SelectionBar';
import classes from './shelf.module.css';
import { TrashShelf } from './TrashShelf';
import { useFindingCounts } from './use-finding-counts';
import { useSelection } from './use-selection';
import { useTrash } from './use-trash';

interface Props {
  readonly pieces: readonly ShelfPieceFacts[];
  readonly trash: readonly ShelfPieceFacts[];
  readonly quarantine: QuarantineFacts;
  /** What a person should know of how the data were found. */
  readonly notices: readonly string[];
  /** Whether pieces are still being rebuilt from their originals. */
  readonly recovering: boolean;
}

/** How often the Shelf looks for pieces that were rebuilt meanwhile. */
const RECOVERING_MS = 3000;

/** All pieces, and the way in for new ones. */
export function Shelf({ pieces: given, trash, quarantine, notices, recovering }: Props) {
  const router = useRouter();
  const refresh = useCallback(() => router.refresh(), [router]);
  useEffect(() => {
    if (!recovering) return;
    const timer = setInterval(refresh, RECOVERING_MS);
    return () => clearInterval(timer);
  }, [recovering, refresh]);
  const pieces = useFindingCounts(given);
  const [arrangement, arrange] = useState(AS_THEY_CAME);
  const [trashShown, setTrashShown] = useState(false);
  const wanted = useDeferredValue(arrangement);
  const shown = useMemo(() => arranged(pieces, wanted), [pieces, wanted]);
  const selection = useSelection(shown);
  const { discard, problem } = useTrash(refresh);
  // Other screens of this tab begin with what is selected here.
  useEffect(() => handOver([...selection.ids]), [selection.ids]);
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="shelf">
        <span className={classes.count}>{pieces.length === 1 ? '1 piece' : `${pieces.length} pieces`}</span>
      </ScreenHeader>
      <main className={classes.main}>
        <Notices notices={notices} />
        <Intake onArrived={refresh} empty={pieces.length === 0} />
        {(pieces.length > 0 || trash.length > 0 || quarantine.files > 0) && (
          <ArrangeBar
            arrangement={arrangement}
            onArrange={arrange}
            shown={shown.length}
            all={pieces.length}
            trashed={trash.length}
            trashShown={trashShown}
            onTrash={() => setTrashShown((is) => !is)}
          />
        )}
        {problem && (
          <p className={classes.problem} role="alert">
            {problem}
          </p>
        )}
        {trashShown ? (
          <TrashShelf pieces={trash} quarantine={quarantine} onChanged={refresh} />
        ) : (
          <>
            <SelectionBar
              ids={[...selection.ids]}
              onClear={selection.clear}
              onAll={selection.all}
              onDiscard={() => {
                void discard([...selection.ids]);
                selection.clear();
              }}
            />
            {pieces.length === 0 ? (
              <p className={classes.nothing}>
                The Shelf is empty. Bring a logo, a scanned signature or a photo whose background has to go:
                it stays on this machine, and its original is never changed.
              </p>
            ) : (
              <PieceGrid
                key={`${wanted.order} ${wanted.kind} ${wanted.search}`}
                pieces={shown}
                selection={selection}
                onDiscard={discard}
                onChanged={refresh}
              />
            )}
            {pieces.length > 0 && shown.length === 0 && (
              <p className={classes.nothing}>No piece is like that. Show all, or search for less.</p>
            )}
          </>
        )}
      </main>
    </div>
  );
}
