'use client';

import { useEffect, useState } from 'react';
import type { CutStateFacts, PieceFacts as Facts } from '../../bench/api';
import { createBenchStore, type BenchStore } from '../../bench/bench-store';
import type { StageKey } from '../../core/stages/stages';
import { startBenchClient } from '../../engine/browser/bench-client';
import { BenchContext, useBench } from './bench-context';
import { BenchHeader } from './BenchHeader';
import { PieceFacts } from './PieceFacts';
import { ReviewBar } from './ReviewBar';
import { Settings } from './Settings';
import { Sheet } from './Sheet';
import { StageStrip } from './StageStrip';
import { TryBand } from './TryBand';
import { useBenchKeys } from './use-bench-keys';
import { KeyList } from './KeyList';
import classes from './bench.module.css';

/** The screen where one piece is cut. */
export function BenchScreen({
  piece,
  state,
  review = null,
  stage = null,
}: {
  readonly piece: Facts;
  readonly state: CutStateFacts;
  /** The run that is looked through, and the place in it. */
  readonly review?: Review | null;
  /** The stage that it is opened with; null for the usual one. */
  readonly stage?: StageKey | null;
}) {
  const [bench, setBench] = useState<BenchStore | null>(null);
  useEffect(() => {
    const opened = createBenchStore(piece, state, startBenchClient());
    if (stage) opened.actions.setStage(stage);
    // oxlint-disable-next-line react/set-state-in-effect -- the worker must not start while rendering
    setBench(opened);
    return () => opened.actions.close();
    // The server's state is where the bench starts from; afterwards the bench leads.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [piece.id]);
  if (!bench) return <main className={classes.screen} aria-busy="true" />;
  return (
    <BenchContext value={bench}>
      <Bench review={review} />
    </BenchContext>
  );
}

interface Review {
  readonly runId: number;
  readonly number: number;
}

function Bench({ review }: { readonly review: Review | null }) {
  const [keysShown, setKeysShown] = useState(false);
  const trying = useBench((state) => state.trying);
  useBenchKeys(() => setKeysShown((shown) => !shown));
  return (
    <main className={classes.screen}>
      <BenchHeader onKeys={() => setKeysShown(true)} />
      {review && <ReviewBar {...review} />}
      <div className={classes.middle}>
        <PieceFacts />
        <Sheet />
        <Settings />
      </div>
      {trying && <TryBand />}
      <StageStrip />
      {keysShown && <KeyList onClose={() => setKeysShown(false)} />}
    </main>
  );
}
