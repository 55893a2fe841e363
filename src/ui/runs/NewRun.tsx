'use client';

import { Button, Select } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useMounted } from '@mantine/hooks';
import { IconPhotoDown } from '@tabler/icons-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { dayOf } from '../../core/day-of';
import { counted } from '../../core/findings/finding';
import { inputNames } from '../../core/formats';
import type { Routine } from '../../core/routine/settings';
import { routineWords } from '../../core/routine/words';
import { runsApi, takeSelected } from '../../bench/runs-api';
import { chooseFolder, useBringing } from '../shelf/use-bringing';
import { Gathering, useGathered } from './Gathering';
import classes from './runs.module.css';

/** Begins a run: pictures that are dropped here, or pieces that were selected on the Shelf, and the routine for them. */
export function NewRun({ routines }: { readonly routines: readonly Routine[] }) {
  const router = useRouter();
  const browse = useRef<() => void>(null);
  const awake = useMounted();
  const [chosen, setChosen] = useState<string>(routines.at(0)?.name ?? '');
  const [selected, setSelected] = useState<readonly string[]>([]);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const gathered = useGathered();
  const { bring, unpacking } = useBringing(gathered.intake);
  // What the Shelf handed over is read once, after the page has woken up.
  // oxlint-disable-next-line react/set-state-in-effect -- sessions are known to the page alone
  useEffect(() => setSelected(takeSelected()), []);

  const routine = routines.find(({ name }) => name === chosen);
  const pieces = [...selected, ...gathered.pieces];
  const isReady = pieces.length > 0 && gathered.travelling === 0;
  const begin = async () => {
    setBusy(true);
    try {
      const { run } = await runsApi.begin({
        routine: chosen,
        pieces,
        refused: gathered.refused,
        date: dayOf(new Date()),
      });
      router.push(`/runs/${run.id}`);
    } catch (error) {
      setTrouble((error as Error).message);
      setBusy(false);
    }
  };
  const label =
    gathered.travelling > 0
      ? `${counted(gathered.travelling, 'picture')} still coming in`
      : pieces.length === 0
        ? 'Run'
        : `Run ${chosen} on ${counted(pieces.length, 'picture')}`;
  return (
    <section aria-label="New run" aria-busy={!awake} className={classes.section}>
      <Dropzone
        onDrop={(files) => void bring(files)}
        openRef={browse}
        activateOnClick={false}
        useFsAccessApi={false}
        className={classes.drop}
        inputProps={{ 'aria-label': 'Pictures to run a routine on' }}
        tabIndex={-1}
      >
        <div className={classes.dropRow}>
          <IconPhotoDown size={22} stroke={1.5} aria-hidden="true" />
          <span>
            <strong>Drop pictures, a folder or a ZIP here</strong>, or
          </span>
          <Button variant="default" onClick={() => browse.current?.()}>
            Browse
          </Button>
          <Button variant="default" onClick={() => chooseFolder((files) => void bring(files))}>
            Folder
          </Button>
          <span className={classes.hint}>{inputNames(',')} · they come to the Shelf too</span>
        </div>
      </Dropzone>
      {unpacking !== null && <p className={classes.soft}>Unpacking {unpacking}</p>}
      <Gathering gathered={gathered} selected={selected.length} onForget={() => setSelected([])} />
      <div className={classes.beginRow}>
        <Select
          label="Routine"
          size="xs"
          allowDeselect={false}
          data={routines.map(({ name }) => name)}
          value={chosen}
          onChange={(name) => name && setChosen(name)}
        />
        <p className={classes.words}>{routine && routineWords(routine).join('; ')}.</p>
        <Button loading={busy} disabled={!isReady} onClick={() => void begin()}>
          {label}
        </Button>
      </div>
      {trouble && (
        <p className={classes.problem} role="alert">
          {trouble}
        </p>
      )}
    </section>
  );
}
