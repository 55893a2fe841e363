import { useDrag } from '@use-gesture/react';
import { useRef, type KeyboardEvent } from 'react';
import type { PlacedPicture } from '../../bench/placed-pictures';
import type { KnownGroundFacts } from '../../bench/proofs-api';
import {
  boxOf,
  heldAt,
  pulledTo,
  snapped,
  type Catch,
  type Corner,
  type PlacedBox,
} from '../../core/proof/place';
import { ANGLE_DEG, type Placement } from '../../core/proof/settings';
import { placeStyle } from './PlacedPiece';
import { useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { lengthWords } from './units';

/** How near, in pixels of the screen, something catches. */
const NEAR_PX = 7;

/** No piece is pulled smaller than this on the screen. */
const LEAST_PX = 8;

const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const CORNERS: readonly (Corner & { readonly name: string })[] = [
  { across: -1, down: -1, name: 'upper left' },
  { across: 1, down: -1, name: 'upper right' },
  { across: 1, down: 1, name: 'lower right' },
  { across: -1, down: 1, name: 'lower left' },
];

interface Props {
  readonly ground: string;
  readonly placement: Placement;
  readonly picture: PlacedPicture;
  readonly facts: KnownGroundFacts;
  /** Pixels of the screen for a unit of the ground. */
  readonly scale: number;
  readonly isHeld: boolean;
  readonly onCaught: (caught: readonly Catch[]) => void;
}

/** The frame of a piece on the open ground: to be dragged, pulled at its corners, turned, and moved by keys. */
export function HeldPiece({ ground, placement, picture, facts, scale, isHeld, onCaught }: Props) {
  const actions = useProofActions();
  const name = useProof(({ pieces }) => pieces[placement.piece]?.name ?? 'a piece');
  const frame = useRef<HTMLDivElement>(null);
  const aspect = picture.height / picture.width;
  const box = boxOf(placement, aspect, facts);
  const { angleDeg, anchor } = placement;

  const lay = (to: PlacedBox, isLast: boolean) => {
    const change = heldAt(to, anchor, facts);
    if (isLast) actions.changePlacement(ground, placement.id, change);
    else actions.draftPlacement(ground, placement.id, change);
  };

  /** A place on the screen, in the ground's unit. */
  const placeOf = (clientX: number, clientY: number) => {
    const sheet = frame.current!.parentElement!.getBoundingClientRect();
    return { x: (clientX - sheet.left) / scale, y: (clientY - sheet.top) / scale };
  };

  const bindMove = useDrag(
    ({ movement: [dx, dy], first, last, memo, altKey, tap, event }) => {
      event.stopPropagation();
      if (first) actions.hold(placement.id);
      const from = (memo as PlacedBox | undefined) ?? box;
      if (tap) return from;
      const free = { ...from, x: from.x + dx / scale, y: from.y + dy / scale };
      // What is turned has no straight edges to catch at.
      const caught =
        altKey || angleDeg !== 0 ? { box: free, caught: [] } : snapped(free, facts, NEAR_PX / scale);
      onCaught(last ? [] : caught.caught);
      lay(caught.box, last);
      return from;
    },
    // Keys move it by the ground's own unit, below.
    { filterTaps: true, pointer: { keys: false } },
  );

  const bindCorner = useDrag(({ args: [corner], xy: [x, y], last, memo, event }) => {
    event.stopPropagation();
    const from = (memo as PlacedBox | undefined) ?? box;
    lay(pulledTo(from, angleDeg, corner as Corner, placeOf(x, y), LEAST_PX / scale), last);
    return from;
  });

  const bindTurn = useDrag(({ xy: [x, y], last, shiftKey, event }) => {
    event.stopPropagation();
    const at = placeOf(x, y);
    const across = at.x - box.x - box.width / 2;
    const down = at.y - box.y - box.height / 2;
    const free = (Math.atan2(across, -down) * 180) / Math.PI;
    const turned = shiftKey ? Math.round(free / 15) * 15 : Math.round(free * 10) / 10;
    const change = { angleDeg: Math.min(ANGLE_DEG.max, Math.max(ANGLE_DEG.min, turned)) };
    if (last) actions.changePlacement(ground, placement.id, change);
    else actions.draftPlacement(ground, placement.id, change);
  });

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      actions.take(ground, placement.id);
      return;
    }
    const step = STEPS[event.key];
    if (!step || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
    lay({ ...box, x: box.x + step[0] * by, y: box.y + step[1] * by }, true);
  };

  return (
    <div
      ref={frame}
      role="button"
      tabIndex={0}
      className={classes.held}
      data-held={isHeld || undefined}
      aria-pressed={isHeld}
      aria-label={`${name}, ${lengthWords(placement.width, facts.unit)} wide`}
      style={placeStyle(box, facts, angleDeg)}
      onFocus={() => actions.hold(placement.id)}
      onKeyDown={onKeyDown}
      {...bindMove()}
    >
      {isHeld && (
        <>
          {CORNERS.map((corner) => (
            <span
              key={corner.name}
              className={classes.corner}
              data-across={corner.across}
              data-down={corner.down}
              title={`Pull the ${corner.name} corner`}
              {...bindCorner(corner)}
            />
          ))}
          <span className={classes.turn} title="Turn; with Shift by 15°" {...bindTurn()} />
        </>
      )}
    </div>
  );
}
