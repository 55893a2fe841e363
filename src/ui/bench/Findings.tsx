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
      <AlikeEdges />
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

/** Places that are listed at a time. */
const LISTED_PLACES = 12;

/** Where along the edge subject and background are too alike to tell how they mix. */
function AlikeEdges() {
  const alike = useBench((state) => state.alike);
  const stale = useBench((state) => state.progress !== null);
  const actions = useBenchActions();
  if (alike.length === 0) return null;
  const pixels = alike.reduce((sum, place) => sum + place.pixels, 0);
  return (
    <div className={classes.finding} data-stale={stale || undefined}>
      <h3>Edge too alike</h3>
      <p className={classes.soft}>
        Along {formatCount(pixels)} px the subject hardly differs from the background; there the edge follows
        Clear.
      </p>
      <ol className={classes.pockets} aria-label="Places where the edge is too alike">
        {alike.slice(0, LISTED_PLACES).map(({ x, y, width, height, pixels: count }, index) => (
          <li key={`${x},${y}`}>
            <UnstyledButton
              className={classes.pocketButton}
              aria-label={`Show place ${index + 1} where the edge is too alike`}
              onClick={() => actions.flyTo([x, y, x + width - 1, y + height - 1])}
            >
              <span className={classes.sampleNumber}>{index + 1}</span>
              <span>{formatCount(count)} px</span>
            </UnstyledButton>
          </li>
        ))}
      </ol>
      {alike.length > LISTED_PLACES && (
        <p className={classes.soft}>and {alike.length - LISTED_PLACES} smaller ones</p>
      )}
    </div>
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
