import { Button, Loader, UnstyledButton } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { Anew } from '../../bench/proposal-actions';
import type { Cut } from '../../core/cut/schema';
import { backingStyle } from '../backing-style';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

type State =
  | { readonly kind: 'none' }
  | { readonly kind: 'proposing' }
  | { readonly kind: 'proposed'; readonly anew: Anew; readonly beside: Cut }
  | { readonly kind: 'failed'; readonly message: string };

const NONE: State = { kind: 'none' };

/** Asks what would be proposed today for a piece that was decided before, and shows both to choose from. */
export function ProposeAnew() {
  const actions = useBenchActions();
  const cut = useBench((state) => state.cut);
  const [state, setState] = useState<State>(NONE);
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);
  // What was proposed beside another cut than is there now says nothing any more.
  const now = state.kind === 'proposed' && state.beside !== cut ? NONE : state;

  const propose = () => {
    if (state.kind === 'proposing') return;
    const { signal } = (abort.current = new AbortController());
    setState({ kind: 'proposing' });
    actions.proposeAnew(signal).then(
      (anew) => !signal.aborted && setState({ kind: 'proposed', anew, beside: cut }),
      (error: Error) => !signal.aborted && setState({ kind: 'failed', message: error.message }),
    );
  };
  return (
    <>
      <Button size="compact-xs" variant="subtle" w="fit-content" px={0} onClick={propose}>
        Propose anew
      </Button>
      <div aria-live="polite">
        {now.kind === 'proposing' && (
          <p className={classes.row}>
            <Loader size={14} /> Looking at the picture again
          </p>
        )}
        {now.kind === 'failed' && <p className={classes.problem}>{now.message}</p>}
        {now.kind === 'proposed' && !now.anew.cut && (
          <p>
            {now.anew.isSame
              ? 'It comes out as it is now, pixel for pixel.'
              : `Nothing is proposed today. ${now.anew.reason}`}
          </p>
        )}
        {now.kind === 'proposed' && now.anew.cut && (
          <Choice
            anew={now.anew}
            onChoose={(chosen) => {
              setState(NONE);
              if (chosen) actions.takeAnew(chosen);
            }}
          />
        )}
      </div>
    </>
  );
}

function Choice({
  anew,
  onChoose,
}: {
  readonly anew: Anew;
  /** Told null where all stays as it is. */
  readonly onChoose: (cut: Cut | null) => void;
}) {
  const { reason, backing } = useBench((state) => state.piece);
  return (
    <div className={classes.question} role="group" aria-label="Which one?">
      <p>Which one?</p>
      <div className={classes.answers}>
        <UnstyledButton className={classes.answer} data-now onClick={() => onChoose(null)}>
          <Small address={anew.nowAddress} backing={backing} />
          Keep the old
        </UnstyledButton>
        <UnstyledButton className={classes.answer} onClick={() => onChoose(anew.cut)}>
          <Small address={`data:image/webp;base64,${anew.picture}`} backing={backing} />
          Take the new
        </UnstyledButton>
      </div>
      {anew.reason !== reason && <span>{anew.reason}</span>}
    </div>
  );
}

function Small({ address, backing }: { readonly address: string; readonly backing: string }) {
  // oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server
  return <img src={address} alt="" style={backingStyle(backing, 6)} />;
}
