'use client';

import { Button } from '@mantine/core';
import { IconEye } from '@tabler/icons-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { isTyping } from '../is-typing';
import { needsLook, runsApi, type RunItemFacts } from '../../bench/runs-api';
import { useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Looking through the pictures of a run that are not sure: accept one as it is now, leave it out, or go to the next. */
export function ReviewBar({ runId, number }: { readonly runId: number; readonly number: number }) {
  const router = useRouter();
  const actions = useBenchActions();
  const [items, setItems] = useState<readonly RunItemFacts[] | null>(null);
  const [told, setTold] = useState<string | null>(null);
  useEffect(() => {
    let over = false;
    void runsApi.items(runId).then(
      (answer) => over || setItems(answer.items.filter((item) => needsLook(item) || item.number === number)),
      (error: Error) => over || setTold(error.message),
    );
    return () => {
      over = true;
    };
  }, [runId, number]);
  const here = items?.find((item) => item.number === number) ?? null;
  const others = items?.filter((item) => item.number !== number) ?? [];
  const next = others.find((item) => item.number > number) ?? others[0] ?? null;

  const goOn = useCallback(
    () => router.push(next ? `/bench/${next.pieceId}?run=${runId}&at=${next.number}` : `/runs/${runId}`),
    [next, router, runId],
  );
  const answer = useCallback(
    async (action: 'accept' | 'skip') => {
      if (here?.state !== 'held') return goOn();
      setTold(action === 'accept' ? 'Saving' : null);
      try {
        await actions.whenSaved();
        await runsApi.answer(runId, number, action);
        goOn();
      } catch (error) {
        setTold((error as Error).message);
      }
    },
    [actions, goOn, here, number, runId],
  );
  useEffect(() => {
    const keys: Readonly<Record<string, () => void>> = {
      t: () => void answer('accept'),
      l: () => void answer('skip'),
      j: goOn,
    };
    const down = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
      const act = keys[event.key.toLowerCase()];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [answer, goOn]);

  const place = here && items ? items.indexOf(here) + 1 : 0;
  const isHeld = here?.state === 'held';
  return (
    <div className={classes.review} role="region" aria-label="Looking through a run">
      <IconEye size={16} stroke={1.8} aria-hidden="true" />
      <span>
        <strong>{items ? `${place} of ${items.length} to look at` : 'Looking through a run'}</strong>{' '}
        {told ?? here?.message ?? ''}
      </span>
      <span className={classes.space} />
      <Button size="compact-sm" disabled={!isHeld} onClick={() => void answer('accept')}>
        Accept and deliver (T)
      </Button>
      <Button size="compact-sm" variant="default" disabled={!isHeld} onClick={() => void answer('skip')}>
        Leave out (L)
      </Button>
      <Button size="compact-sm" variant="default" onClick={goOn}>
        {next ? 'Next (J)' : 'Back to the run (J)'}
      </Button>
      <Button size="compact-sm" variant="subtle" color="gray" component={Link} href={`/runs/${runId}`}>
        The run
      </Button>
    </div>
  );
}
