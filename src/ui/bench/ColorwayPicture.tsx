import { useEffect, useRef } from 'react';
import { useBench } from './bench-context';
import classes from './bench.module.css';

/** The piece in one color, small, on a backing. Its outline is that of the stage strip's picture. */
export function ColorwayPicture({ color, backing }: { readonly color: string; readonly backing: string }) {
  const silhouette = useBench((state) => state.silhouette);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context || !silhouette) return;
    const { width, height } = silhouette;
    canvas.current!.width = width;
    canvas.current!.height = height;
    context.drawImage(silhouette, 0, 0);
    context.globalCompositeOperation = 'source-in';
    context.fillStyle = color;
    context.fillRect(0, 0, width, height);
    context.globalCompositeOperation = 'destination-over';
    context.fillStyle = backing;
    context.fillRect(0, 0, width, height);
  }, [silhouette, color, backing]);
  return (
    <canvas ref={canvas} width={84} height={46} className={classes.colorwayPicture} aria-hidden="true" />
  );
}
