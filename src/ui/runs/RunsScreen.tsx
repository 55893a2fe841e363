'use client';

import { Button, Progress } from '@mantine/core';
import { IconAlertTriangle, IconCheck, IconPlayerPause, IconLoader2, IconX } from '@tabler/icons-react';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import type { Routine } from '../../core/routine/settings';
import { progressOf, runsApi, type RunFacts, type WatchFacts } from '../../bench/runs-api';
import { ScreenHeader } from '../frame/ScreenHeader';
import { formatMoment } from '../format';
import { UnreadableRows } from '../frame/UnreadableRows';
import type { UnreadableRow } from '../../core/document';
import { NewRun } from './NewRun';
import { tallyWords } from './run-words';
import classes from './runs.module.css';
import { WatchList } from './WatchList';

interface Props {
  readonly runs: readonly RunFacts[];
  readonly routines: readonly Routine[];
  readonly watches: readonly WatchFacts[];
  readonly unreadable: readonly UnreadableRow[];
}

/** How often the list looks how runs stand while one goes on. */
const AGAIN_MS = 2000;

/** Routines on many pieces: begin one, see how they stand, and the folders that are watched. */
export function RunsScreen({ runs: given, routines, watches, unreadable }: Props) {
  const [runs, setRuns] = useState(given);
  const isGoing = runs.some(({ state }) => state === 'running');
  useEffect(() => {
    if (!isGoing) return;
    const timer = setInterval(
      () =>
        void runsApi.runs().then(
          (answer) => setRuns(answer.runs),
          () => undefined,
        ),
      AGAIN_MS,
    );
    return () => clearInterval(timer);
  }, [isGoing]);
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="runs">
        <Button size="xs" variant="default" component={Link} href="/runs/routines">
          Routines
        </Button>
      </ScreenHeader>
      <main className={classes.main}>
        <NewRun routines={routines} />
        <UnreadableRows rows={unreadable} />
        <section aria-label="Runs" className={classes.section}>
          <h2>{runs.length === 0 ? 'No run yet' : runs.length === 1 ? '1 run' : `${runs.length} runs`}</h2>
          {runs.length === 0 ? (
            <p className={classes.soft}>
              A run carries a routine out on many pieces: it proposes, cuts and delivers each, and holds back
              what it is not sure of, for you to look at.
            </p>
          ) : (
            <ul className={classes.runs}>
              {runs.map((run) => (
                <RunLine key={run.id} run={run} />
              ))}
            </ul>
          )}
        </section>
        <WatchList watches={watches} routines={routines} />
      </main>
    </div>
  );
}

const STATES = {
  running: { icon: IconLoader2, word: 'going on' },
  paused: { icon: IconPlayerPause, word: 'paused' },
  cancelled: { icon: IconX, word: 'cancelled' },
  done: { icon: IconCheck, word: 'done' },
} as const;

function RunLine({ run }: { readonly run: RunFacts }) {
  const { done, all } = progressOf(run);
  const needs = (run.counts.held ?? 0) + (run.counts.failed ?? 0) > 0;
  const { icon: Icon, word } = STATES[run.state];
  return (
    <li>
      <Link href={`/runs/${run.id}`} className={classes.runLine}>
        <span className={classes.runName}>
          <strong>{run.name}</strong>
          <span className={classes.soft}>{formatMoment(run.createdAt)}</span>
        </span>
        <Progress value={(100 * done) / Math.max(1, all)} size={4} aria-label={`${done} of ${all}`} />
        <span>{tallyWords(run)}</span>
        <span className={classes.runState} data-state={run.state}>
          {needs && run.state === 'done' ? (
            <IconAlertTriangle size={15} stroke={1.8} aria-hidden="true" />
          ) : (
            <Icon size={15} stroke={1.8} aria-hidden="true" />
          )}
          {needs && run.state === 'done' ? 'done, to look at' : word}
        </span>
      </Link>
    </li>
  );
}
