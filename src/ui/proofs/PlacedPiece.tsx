import { useEffect, useRef, type CSSProperties } from 'react';
import type { PlacedPicture } from '../../bench/placed-pictures';
import { boxOf, type PlacedBox, type Surface } from '../../core/proof/place';
import type { Placement } from '../../core/proof/settings';
import classes from './proofs.module.css';

/** Where a piece lies on its ground, as shares of it: the same at every size. */
export function placeStyle(box: PlacedBox, surface: Surface, angleDeg: number): CSSProperties {
  const share = (value: number, whole: number) => `${(100 * value) / whole}%`;
  return {
    left: share(box.x, surface.width),
    top: share(box.y, surface.height),
    width: share(box.width, surface.width),
    height: share(box.height, surface.height),
    transform: angleDeg === 0 ? undefined : `rotate(${angleDeg}deg)`,
  };
}

/** A piece as it is seen on its ground. */
export function PlacedPiece({
  placement,
  picture,
  surface,
}: {
  readonly placement: Placement;
  readonly picture: PlacedPicture;
  readonly surface: Surface;
}) {
  const box = boxOf(placement, picture.height / picture.width, surface);
  const style: CSSProperties = {
    ...placeStyle(box, surface, placement.angleDeg),
    opacity: placement.opacity / 100,
    mixBlendMode: placement.blend,
  };
  const { source } = picture;
  return typeof source === 'string' ? (
    // oxlint-disable-next-line nextjs/no-img-element -- made by this server, at the size it is shown
    <img className={classes.piece} style={style} src={source} alt="" draggable={false} />
  ) : (
    <BitmapPiece bitmap={source} style={style} />
  );
}

function BitmapPiece({ bitmap, style }: { readonly bitmap: ImageBitmap; readonly style: CSSProperties }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const own = canvas.current;
    if (!own || bitmap.width === 0) return;
    own.width = bitmap.width;
    own.height = bitmap.height;
    own.getContext('2d')?.drawImage(bitmap, 0, 0);
    own.dispatchEvent(new CustomEvent('painted', { bubbles: true }));
  }, [bitmap]);
  return <canvas ref={canvas} className={classes.piece} style={style} />;
}
