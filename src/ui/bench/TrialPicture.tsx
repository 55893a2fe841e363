import { Button, Loader } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { TrialFacts } from '../../bench/api';
import type { Output } from '../../core/stages/deliver/output-settings';
import { formatBytes } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { lossWords } from './loss-words';

/** Formats that a browser can show. */
const SHOWN = new Set<Output['format']>(['png', 'webp', 'avif', 'gif', 'jpeg', 'svg', 'ico']);

type State =
  | { readonly kind: 'none' }
  | { readonly kind: 'making' }
  | { readonly kind: 'made'; readonly trial: TrialFacts; readonly address: string }
  | { readonly kind: 'failed'; readonly message: string };

/**
 * The file as it would be delivered: how large it is, how far it lies from the pixels, and how it looks at its rim. Once it was
 * asked for it follows the settings.
 */
export function TrialPicture({ output, index }: { readonly output: Output; readonly index: number }) {
  const actions = useBenchActions();
  const saving = useBench((state) => state.saving.state);
  const cut = useBench((state) => state.cut);
  const [follows, setFollows] = useState(false);
  const [state, setState] = useState<State>({ kind: 'none' });
  const address = useRef<string | null>(null);
  const ready = follows && saving === 'saved';

  useEffect(() => () => void (address.current && URL.revokeObjectURL(address.current)), []);
  useEffect(() => {
    if (!ready) return;
    const abort = new AbortController();
    const timer = setTimeout(() => {
      setState({ kind: 'making' });
      void actions.tryOutput(index, abort.signal).then(
        (trial) => {
          if (abort.signal.aborted) return;
          if (address.current) URL.revokeObjectURL(address.current);
          address.current = URL.createObjectURL(trial.blob);
          setState({ kind: 'made', trial, address: address.current });
        },
        (error: Error) => {
          if (!abort.signal.aborted) setState({ kind: 'failed', message: error.message });
        },
      );
    }, 250);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [ready, cut, index, actions]);

  if (!follows)
    return (
      <Button size="compact-xs" variant="default" onClick={() => setFollows(true)}>
        Try it: size and look
      </Button>
    );
  return (
    <div className={classes.trial} aria-live="polite">
      {(state.kind === 'making' || state.kind === 'none') && (
        <p className={classes.row}>
          <Loader size={14} /> Making the file
        </p>
      )}
      {state.kind === 'failed' && <p className={classes.problem}>{state.message}</p>}
      {state.kind === 'made' && (
        <>
          <p>
            <strong>{formatBytes(state.trial.blob.size)}</strong>, {state.trial.width} x {state.trial.height}{' '}
            px, {state.trial.kind}. {lossWords(output.format, state.trial)}
          </p>
          {SHOWN.has(output.format) && (
            <div className={classes.trialView} tabIndex={0} role="region" aria-label="The file at 100 %">
              {/* A file that was just made and is not kept. */}
              {/* oxlint-disable-next-line nextjs/no-img-element */}
              <img
                src={state.address}
                alt="The file as it would be delivered"
                onLoad={({ currentTarget }) => toMiddle(currentTarget)}
              />
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** Shows the middle of a picture that is larger than its window. */
function toMiddle(picture: HTMLImageElement): void {
  picture.parentElement?.scrollTo(
    (picture.width - picture.parentElement.clientWidth) / 2,
    (picture.height - picture.parentElement.clientHeight) / 2,
  );
}
