'use client';

import { Button, useComputedColorScheme } from '@mantine/core';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { toolOf } from '../../bench/pointer-tools';
import { useBench, useBenchStore } from './bench-context';
import classes from './bench.module.css';
import { Loupe } from './Loupe';
import { Overview } from './Overview';
import { PixelGrid } from './PixelGrid';
import { SheetMarks } from './SheetMarks';
import { StatusLine } from './StatusLine';
import { useCrosshair } from './use-crosshair';
import { Wipe } from './Wipe';
import { useSheetGestures } from './use-sheet-gestures';

/** Gray around the picture in the two themes; equal to `--around`. */
const AROUND = { light: 0xe4e4e4, dark: 0x333333 } as const;

/** The zoomable picture. Its pixels are painted by the engine's worker; here are only marks and gestures. */
export function Sheet() {
  const area = useRef<HTMLDivElement>(null);
  const density = useSheetCanvas(area);
  const { panning } = useSheetGestures(area, density);
  const crosshair = useCrosshair(density);
  useFocusOnFinding(area);
  const failure = useBench((state) => state.failure);
  const opened = useBench((state) => state.opened);
  const tool = useBenchStore().tools[useBench(toolOf)];
  return (
    <section className={classes.sheet} aria-label="Sheet">
      <div
        ref={area}
        className={classes.area}
        data-cursor={panning ? 'grab' : tool.cursor}
        tabIndex={0}
        role="application"
        aria-label={`Sheet. Arrow keys move the crosshair${tool.enter === null ? '' : `, Enter ${tool.enter}`}.`}
        {...crosshair.handlers}
      />
      {!opened && !failure && <p className={classes.opening}>Loading the picture</p>}
      {failure && <Failure message={failure} />}
      <SheetMarks density={density} />
      {crosshair.at && (
        <span
          className={classes.crosshair}
          style={{ left: crosshair.at.x, top: crosshair.at.y }}
          aria-hidden="true"
        />
      )}
      <PixelGrid density={density} />
      <Wipe density={density} />
      <Overview />
      <Loupe density={density} />
      <StatusLine />
    </section>
  );
}

/** Brings the keyboard to the sheet when a key leads to a finding, so that Enter puts it right. */
function useFocusOnFinding(area: React.RefObject<HTMLDivElement | null>): void {
  const at = useBench((state) => state.at);
  useEffect(() => {
    const inMargin = document.activeElement?.closest('[aria-label="Findings"]');
    if (at && !inMargin) area.current?.focus({ preventScroll: true });
  }, [area, at]);
}

function Failure({ message }: { readonly message: string }) {
  return (
    <div className={classes.failure} role="alert">
      <p>{message}</p>
      <p>Every saved step is safe.</p>
      <Button size="xs" variant="default" onClick={() => window.location.reload()}>
        Open the bench again
      </Button>{' '}
      <Button size="xs" variant="default" component={Link} href="/">
        Go to the Shelf
      </Button>
    </div>
  );
}

/** Puts a canvas into the area, hands it to the engine, and keeps its size. Returns device pixels per CSS pixel. */
function useSheetCanvas(area: React.RefObject<HTMLDivElement | null>): number {
  const { actions } = useBenchStore();
  const scheme = useComputedColorScheme('light');
  const [density] = useState(() => window.devicePixelRatio || 1);

  useEffect(() => {
    const host = area.current!;
    const canvas = document.createElement('canvas');
    canvas.dataset.sheet = '';
    canvas.setAttribute('aria-hidden', 'true');
    host.append(canvas);
    actions.open(
      canvas,
      density,
      AROUND[document.documentElement.dataset.mantineColorScheme === 'dark' ? 'dark' : 'light'],
    );
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      canvas.style.width = `${Math.floor(width)}px`;
      canvas.style.height = `${Math.floor(height)}px`;
      actions.resize(Math.round(Math.floor(width) * density), Math.round(Math.floor(height) * density));
    });
    observer.observe(host);
    return () => {
      observer.disconnect();
      canvas.remove();
    };
  }, [actions, area, density]);

  useEffect(() => actions.setAround(AROUND[scheme]), [actions, scheme]);
  return density;
}
