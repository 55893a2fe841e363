import type { ReactNode } from 'react';
import type { PlacedPicture } from '../../bench/placed-pictures';
import { proofsApi, type GroundState } from '../../bench/proofs-api';
import type { Ground, Placement } from '../../core/proof/settings';
import { PlacedPiece } from './PlacedPiece';
import classes from './proofs.module.css';

export type PictureOf = (placement: Placement) => PlacedPicture | { readonly trouble: string } | null;

/** A ground with the pieces that lie on it; `width` is how wide it is drawn, in pixels of the screen. */
export function GroundPicture({
  ground,
  facts,
  width,
  pictureOf,
  children,
}: {
  readonly ground: Ground;
  readonly facts: GroundState | undefined;
  readonly width: number;
  readonly pictureOf: PictureOf;
  readonly children?: ReactNode;
}) {
  if (!facts) return <span className={classes.empty}>drawing</span>;
  if ('trouble' in facts) return <span className={classes.trouble}>{facts.trouble}</span>;
  return (
    <span className={classes.ground} style={{ aspectRatio: `${facts.width} / ${facts.height}` }}>
      {/* oxlint-disable-next-line nextjs/no-img-element -- made by this server, at the size it is shown */}
      <img
        className={classes.groundPicture}
        src={proofsApi.groundAddress(ground.source, Math.min(4000, width))}
        alt=""
        draggable={false}
      />
      {ground.placed.map((placement) => {
        const picture = pictureOf(placement);
        return picture && 'source' in picture ? (
          <PlacedPiece key={placement.id} placement={placement} picture={picture} surface={facts} />
        ) : null;
      })}
      {children}
    </span>
  );
}
