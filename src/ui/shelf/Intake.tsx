'use client';

import { Button } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useMounted } from '@mantine/hooks';
import { IconPhotoDown, IconScan } from '@tabler/icons-react';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { inputNames } from '../../core/formats';
import { isTyping } from '../is-typing';
import { IntakeList } from './IntakeList';
import { ScannerPanel } from './ScannerPanel';
import classes from './shelf.module.css';
import { chooseFolder, useBringing } from './use-bringing';
import { useIntake } from './use-intake';

/** Takes pictures by drop, browse or paste, each with its own progress and its own message. */
export function Intake({ onArrived, empty }: { readonly onArrived: () => void; readonly empty: boolean }) {
  const { entries, take, takeBundles, acceptDamaged, choose, refuse, cancel, dismiss } = useIntake(onArrived);
  const browse = useRef<() => void>(null);
  const [scanning, setScanning] = useState(false);
  const awake = useMounted();

  const { bring, bringFromPage, unpacking } = useBringing({ take, takeBundles, refuse });

  useEffect(() => {
    const paste = (event: ClipboardEvent) => {
      const data = event.clipboardData;
      if (!data || isTyping(event.target)) return;
      const files = [...data.files];
      if (files.length > 0) void bring(files);
      else if (!bringFromPage(data)) return;
      event.preventDefault();
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [bring, bringFromPage]);

  const dropFromPage = (event: DragEvent) => {
    if (event.dataTransfer.files.length === 0 && bringFromPage(event.dataTransfer)) event.preventDefault();
  };

  return (
    <section
      aria-label="Bring pictures in"
      aria-busy={!awake}
      onDragOver={(event) => event.preventDefault()}
      onDrop={dropFromPage}
    >
      <Dropzone
        onDrop={(files) => void bring(files)}
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
          <Button variant="default" onClick={() => chooseFolder((files) => void bring(files))}>
            Folder
          </Button>
          <Button
            variant="default"
            leftSection={<IconScan size={16} stroke={1.6} aria-hidden="true" />}
            aria-expanded={scanning}
            onClick={() => setScanning(!scanning)}
          >
            Scan
          </Button>
          <span className={classes.hint}>
            {inputNames(',')} · folders · ZIP · up to 100 megapixels and 200 MB each
          </span>
        </div>
      </Dropzone>
      {unpacking !== null && <p className={classes.hint}>Unpacking {unpacking}</p>}
      {scanning && <ScannerPanel onArrived={onArrived} onClose={() => setScanning(false)} />}
      <IntakeList
        entries={entries}
        onAccept={acceptDamaged}
        onChoose={choose}
        onCancel={cancel}
        onDismiss={dismiss}
      />
    </section>
  );
}
