import { useEffect, useRef } from 'react';
import type { SamplePhoto, SampleState } from '../../bench/mark-drawer';
import classes from './watermarks.module.css';

/** A photo with a mark on it, as it was drawn; or why there is none. */
export function SamplePicture({
  sample,
  state,
  label,
}: {
  readonly sample: SamplePhoto;
  readonly state: SampleState | undefined;
  readonly label: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const bitmap = state?.kind === 'shown' ? state.bitmap : null;
  useEffect(() => {
    const own = canvas.current;
    if (!own || !bitmap) return;
    own.width = bitmap.width;
    own.height = bitmap.height;
    // Drawn, not handed over: the picture may be shown again in another size.
    own.getContext('2d', { alpha: false })?.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  if (state?.kind === 'trouble')
    return (
      <span className={classes.trouble} role="alert">
        {state.message}
      </span>
    );
  // Until the mark is drawn the bare photo stands there.
  if (!bitmap)
    return (
      // oxlint-disable-next-line nextjs/no-img-element -- already small, of this server
      <img src={sample.address} className={classes.picture} alt={label} aria-busy="true" />
    );
  return <canvas ref={canvas} className={classes.picture} role="img" aria-label={label} />;
}
