import { Button, Loader, UnstyledButton } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { Anew } from '../../bench/proposal-actions';
import { backingStyle } from '../backing-style';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

type State =
  | { readonly kind: 'none' }
  | { readonly kind: 'proposing' }
  | { readonly kind: 'proposed'; readonly anew: Anew; readonly beside: object }
  | { readonly kind: 'failed'; readonly message: string };

/** Asks what would be proposed today for a piece that was decided before, and shows both to choose from. */
export function ProposeAnew() {
  const actions = useBenchActions();
  const cut = useBench((state) => state.cut);
  const reason = useBench((state) => state.piece.reason);
  const backing = useBench((state) => state.piece.backing);
  const [state, setState] = useState<State>({ kind: 'none' });
  const abort = useRef<AbortController | null>(null);
  useEffect(() => () => abort.current?.abort(), []);

  const propose = () => {
    const { signal } = (abort.current = new AbortController());
    setState({ kind: 'proposing' });
    actions.proposeAnew(signal).then(
      (anew) => !signal.aborted && setState({ kind: 'proposed', anew, beside: cut }),
      (error: Error) => !signal.aborted && setState({ kind: 'failed', message: error.message }),
    );
  };
  const close = () => setState({ kind: 'none' });

  // What was proposed beside another cut than is there now says nothing any more.
  if (state.kind === 'none' || (state.kind === 'proposed' && state.beside !== cut))
    return (
      <Button size="compact-xs" variant="subtle" w="fit-content" px={0} onClick={propose}>
        Propose anew
      </Button>
    );
  return (
    <div className={classes.question} role="group" aria-label="Proposed anew" aria-live="polite">
      {state.kind === 'proposing' && (
        <p className={classes.row}>
          <Loader size={14} /> Looking at the picture again
        </p>
      )}
      {state.kind === 'failed' && <p className={classes.problem}>{state.message}</p>}
      {state.kind === 'proposed' && !state.anew.cut && (
        <p role="status">
          {state.anew.isSame
            ? 'Proposed anew, it comes out as it is now, pixel for pixel.'
            : `Nothing is proposed today. ${state.anew.reason}`}
        </p>
      )}
      {state.kind === 'proposed' && state.anew.cut && (
        <>
          <p>Which one?</p>
          {state.anew.reason !== reason && <p className={classes.reason}>{state.anew.reason}</p>}
          <div className={classes.answers}>
            <UnstyledButton className={classes.answer} data-now onClick={close}>
              <Small address={state.anew.nowAddress} backing={backing} />
              Keep the old
            </UnstyledButton>
            <UnstyledButton
              className={classes.answer}
              onClick={() => {
                actions.takeAnew(state.anew.cut!);
                close();
              }}
            >
              <Small address={`data:image/webp;base64,${state.anew.picture}`} backing={backing} />
              Take the new
            </UnstyledButton>
          </div>
        </>
      )}
      {(state.kind === 'failed' || (state.kind === 'proposed' && !state.anew.cut)) && (
        <Button size="compact-xs" variant="default" w="fit-content" onClick={close}>
          Close
        </Button>
      )}
    </div>
  );
}

function Small({ address, backing }: { readonly address: string; readonly backing: string }) {
  // oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server
  return <img src={address} alt="" style={backingStyle(backing, 6)} />;
}
