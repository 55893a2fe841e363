import { SegmentedControl } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useState } from 'react';
import type { KnownGroundFacts } from '../../bench/proofs-api';
import type { Catch } from '../../core/proof/place';
import { GroundPicture } from './GroundPicture';
import { HeldPiece } from './HeldPiece';
import { usePictures, useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';

const ROOM_PX = 32;
const SCREEN_DPI = 96;
const MM_PER_INCH = 25.4;

type Zoom = 'fit' | '100' | '200';

/** A ground that fills the board, with pieces that can be moved on it. */
export function Board({ id }: { readonly id: string }) {
  const ground = useProof(({ proof }) => proof.grounds.find((one) => one.id === id));
  const facts = useProof(({ grounds }) => grounds[id]);
  const held = useProof((state) => state.held);
  const pictureOf = usePictures();
  const actions = useProofActions();
  const { ref, width, height } = useElementSize();
  const [zoom, setZoom] = useState<Zoom>('fit');
  const [caught, setCaught] = useState<readonly Catch[]>([]);
  if (!ground) return <section className={classes.board} aria-label="Board" />;
  const known = facts && !('trouble' in facts) ? facts : null;
  const scale = known ? scaleOf(known, zoom, width - ROOM_PX, height - ROOM_PX) : 0;
  const drawnWidth = known ? Math.max(1, Math.round(known.width * scale)) : 0;
  return (
    <section className={classes.board} aria-label="Board" data-open>
      <div ref={ref} className={classes.stage}>
        {known && scale > 0 ? (
          <div
            className={classes.sheet}
            style={{ width: drawnWidth, height: Math.round(known.height * scale) }}
            onPointerDown={({ target }) => {
              // Only beside the pieces: what is held on one of them stays in hand.
              if (!(target as Element).closest('[role="button"]')) actions.hold(null);
            }}
          >
            <GroundPicture
              ground={ground}
              facts={known}
              width={roundedUp(drawnWidth * (window.devicePixelRatio || 1))}
              pictureOf={pictureOf}
            >
              {ground.placed.map((placement) => {
                const picture = pictureOf(placement);
                return picture && 'source' in picture ? (
                  <HeldPiece
                    key={placement.id}
                    ground={id}
                    placement={placement}
                    picture={picture}
                    facts={known}
                    scale={scale}
                    isHeld={held === placement.id}
                    onCaught={setCaught}
                  />
                ) : null;
              })}
              {caught.map(({ axis, at }) => (
                <span
                  key={axis}
                  className={classes.guide}
                  data-axis={axis}
                  style={axis === 'x' ? { left: at * scale } : { top: at * scale }}
                />
              ))}
            </GroundPicture>
          </div>
        ) : (
          <GroundPicture ground={ground} facts={facts} width={1} pictureOf={pictureOf} />
        )}
      </div>
      <div className={classes.boardLine}>
        <SegmentedControl
          aria-label="Size on the screen"
          value={zoom}
          onChange={(value) => setZoom(value)}
          data={[
            { value: 'fit', label: 'Fit' },
            { value: '100', label: '100\u00a0%' },
            { value: '200', label: '200\u00a0%' },
          ]}
        />
        <span className={classes.soft}>
          Drag a piece; arrow keys move it by 1, with Shift by 10, with Alt by a tenth. Alt while dragging:
          nothing catches.
        </span>
      </div>
    </section>
  );
}

/** Pixels of the screen for a unit of the ground. */
function scaleOf({ width, height, unit }: KnownGroundFacts, zoom: Zoom, wide: number, high: number): number {
  if (zoom === 'fit') return Math.max(0, Math.min(wide / width, high / height));
  const whole = unit === 'mm' ? SCREEN_DPI / MM_PER_INCH : 1;
  return zoom === '100' ? whole : 2 * whole;
}

/** Grounds are drawn at few sizes, so that resizing a window does not draw each of its widths. */
function roundedUp(width: number): number {
  return Math.min(4000, Math.ceil(width / 200) * 200);
}
