'use client';

import { Button } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useMounted } from '@mantine/hooks';
import { IconPhotoDown, IconScan } from '@tabler/icons-react';
import { useEffect, useRef, useState } from 'react';
import { inputNames } from '../../core/formats';
import { IntakeList } from './IntakeList';
import { ScannerPanel } from './ScannerPanel';
import classes from './shelf.module.css';
import { useIntake } from './use-intake';

/** Takes pictures by drop, browse or paste, each with its own progress and its own message. */
export function Intake({ onArrived, empty }: { readonly onArrived: () => void; readonly empty: boolean }) {
  const { entries, take, acceptDamaged, cancel, dismiss } = useIntake(onArrived);
  const browse = useRef<() => void>(null);
  const [scanning, setScanning] = useState(false);
  const awake = useMounted();

  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length === 0) return;
      event.preventDefault();
      take(files);
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [take]);

  return (
    <section aria-label="Bring pictures in" aria-busy={!awake}>
      <Dropzone
        onDrop={take}
        openRef={browse}
        activateOnClick={false}
        useFsAccessApi={false}
        className={classes.intake}
        data-empty={empty || undefined}
        inputProps={{ 'aria-label': 'Pictures to bring in' }}
        tabIndex={-1}
      >
        <div className={classes.intakeRow}>
          <IconPhotoDown size={22} stroke={1.5} aria-hidden="true" />
          <span>
            <strong>Drop pictures here</strong>, paste them, or
          </span>
          <Button variant="default" onClick={() => browse.current?.()}>
            Browse
          </Button>
          <Button
            variant="default"
            leftSection={<IconScan size={16} stroke={1.6} aria-hidden="true" />}
            aria-expanded={scanning}
            onClick={() => setScanning(!scanning)}
          >
            Scan
          </Button>
          <span className={classes.hint}>{inputNames(',')} · up to 100 megapixels and 200 MB each</span>
        </div>
      </Dropzone>
      {scanning && <ScannerPanel onArrived={onArrived} onClose={() => setScanning(false)} />}
      <IntakeList entries={entries} onAccept={acceptDamaged} onCancel={cancel} onDismiss={dismiss} />
    </section>
  );
}
