'use client';

import { useRouter } from 'next/navigation';
import { useCallback } from 'react';
import type { ShelfPieceFacts } from '../../bench/api';
import { Mark } from '../frame/Mark';
import { ThemeSwitch } from '../frame/ThemeSwitch';
import { Intake } from './Intake';
import { PieceCard } from './PieceCard';
import classes from './shelf.module.css';

/** All pieces, and the way in for new ones. */
export function Shelf({ pieces }: { readonly pieces: readonly ShelfPieceFacts[] }) {
  const router = useRouter();
  const refresh = useCallback(() => router.refresh(), [router]);
  return (
    <div className={classes.screen}>
      <header className={classes.header}>
        <Mark />
        <span className={classes.product}>Kenosis</span>
        <h1 className={classes.title}>Shelf</h1>
        <span className={classes.count}>{pieces.length === 1 ? '1 piece' : `${pieces.length} pieces`}</span>
        <span className={classes.space} />
        <ThemeSwitch />
      </header>
      <main className={classes.main}>
        <Intake onArrived={refresh} empty={pieces.length === 0} />
        {pieces.length === 0 ? (
          <p className={classes.nothing}>
            The Shelf is empty. Bring a logo, a scanned signature or a photo whose background has to go: it
            stays on this machine, and its original is never changed.
          </p>
        ) : (
          <ul className={classes.grid}>
            {pieces.map((piece) => (
              <PieceCard key={piece.id} piece={piece} />
            ))}
          </ul>
        )}
      </main>
    </div>
  );
}
