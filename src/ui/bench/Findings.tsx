import { ActionIcon, Button, Tooltip, UnstyledButton } from '@mantine/core';
import { IconEraser, IconPin } from '@tabler/icons-react';
import type { PocketReport } from '../../engine/protocol';
import { formatCount } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Pockets that are listed at a time; the buttons act on all. */
const LISTED = 40;

/** The margin of notes: what the proposal saw, and the pockets that wait for a decision. */
export function Findings() {
  const reason = useBench((state) => state.piece.reason);
  return (
    <section aria-label="Findings">
      <h2>Findings</h2>
      {reason && (
        <p className={classes.reason}>
          <span className={classes.soft}>Proposed on import: </span>
          {reason}
        </p>
      )}
      <Pockets />
    </section>
  );
}

function Pockets() {
  const pockets = useBench((state) => state.pockets);
  const actions = useBenchActions();
  const open = pockets.filter(({ kept }) => !kept);
  if (pockets.length === 0) return <p className={classes.soft}>No pockets</p>;
  return (
    <>
      {open.length > 0 && (
        <Button size="xs" variant="default" fullWidth onClick={() => actions.clearPockets(open)}>
          {open.length === 1 ? 'Clear 1 pocket' : `Clear ${open.length} pockets`}
        </Button>
      )}
      <ol className={classes.pockets} aria-label="Pockets">
        {pockets.slice(0, LISTED).map((pocket, index) => (
          <PocketRow key={`${pocket.x},${pocket.y}`} pocket={pocket} number={index + 1} />
        ))}
      </ol>
      {pockets.length > LISTED && <p className={classes.soft}>and {pockets.length - LISTED} smaller ones</p>}
    </>
  );
}

function PocketRow({ pocket, number }: { readonly pocket: PocketReport; readonly number: number }) {
  const actions = useBenchActions();
  return (
    <li data-kept={pocket.kept || undefined}>
      <UnstyledButton
        className={classes.pocketButton}
        aria-label={`Show pocket ${number}`}
        onClick={() => actions.flyTo(pocket.box)}
      >
        <span className={classes.sampleNumber}>{number}</span>
        <span>
          {formatCount(pocket.pixels)} px{pocket.kept ? ', kept' : ''}
        </span>
      </UnstyledButton>
      <Tooltip label="Clear this pocket">
        <ActionIcon
          size={22}
          aria-label={`Clear pocket ${number}`}
          onClick={() => actions.clearPockets([pocket])}
        >
          <IconEraser size={15} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
      {!pocket.kept && (
        <Tooltip label="Keep it: it belongs to the subject">
          <ActionIcon
            size={22}
            aria-label={`Keep pocket ${number}`}
            onClick={() => actions.keepPockets([pocket])}
          >
            <IconPin size={15} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
      )}
    </li>
  );
}
