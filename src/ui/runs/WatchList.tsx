'use client';

import { ActionIcon, Button, Select, Switch, TextInput, Tooltip } from '@mantine/core';
import { IconAlertTriangle, IconTrash } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import type { Routine } from '../../core/routine/settings';
import { runsApi, type SettledFacts, type WatchFacts } from '../../bench/runs-api';
import { formatMoment } from '../format';
import { ITEM_WORDS } from './run-words';
import classes from './runs.module.css';

/** How often watched folders are looked at while the screen is open. */
const AGAIN_MS = 2500;

/** What became of files is listed, so many of each folder. */
const MOST_LISTED = 8;

/** Folders whose files are taken as they come. */
export function WatchList({
  watches: given,
  routines,
}: {
  readonly watches: readonly WatchFacts[];
  readonly routines: readonly Routine[];
}) {
  const [watches, setWatches] = useState(given);
  const [adding, setAdding] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const isOn = watches.some((watch) => watch.isOn);
  useEffect(() => {
    if (!isOn) return;
    const timer = setInterval(
      () =>
        void runsApi.watches().then(
          (answer) => setWatches(answer.watches),
          () => undefined,
        ),
      AGAIN_MS,
    );
    return () => clearInterval(timer);
  }, [isOn]);
  const tell = (work: Promise<{ watches: WatchFacts[] }>) =>
    work.then(
      (answer) => {
        setWatches(answer.watches);
        setTrouble(null);
        setAdding(false);
      },
      (error: Error) => setTrouble(error.message),
    );
  return (
    <section aria-label="Watched folders" className={classes.section}>
      <div className={classes.headRow}>
        <h2>Watched folders</h2>
        <Button size="compact-xs" variant="default" aria-expanded={adding} onClick={() => setAdding(!adding)}>
          Watch a folder
        </Button>
      </div>
      {watches.length === 0 && !adding && (
        <p className={classes.soft}>
          Files that come into a watched folder are cut by a routine and delivered into another one.
        </p>
      )}
      {adding && <AddWatch routines={routines} onAdd={(watch) => void tell(runsApi.addWatch(watch))} />}
      {trouble && (
        <p className={classes.problem} role="alert">
          {trouble}
        </p>
      )}
      {watches.map((watch) => (
        <WatchCard
          key={watch.id}
          watch={watch}
          onSwitch={(on) => void tell(runsApi.switchWatch(watch.id, on))}
          onRemove={() => void tell(runsApi.removeWatch(watch.id))}
        />
      ))}
    </section>
  );
}

function AddWatch({
  routines,
  onAdd,
}: {
  readonly routines: readonly Routine[];
  readonly onAdd: (watch: { folder: string; out: string; routine: string }) => void;
}) {
  const [folder, setFolder] = useState('');
  const [out, setOut] = useState('');
  const [routine, setRoutine] = useState(
    () => (routines.find(({ name }) => name === 'product-on-transparent') ?? routines[0])?.name ?? '',
  );
  return (
    <form
      className={classes.addWatch}
      onSubmit={(event) => {
        event.preventDefault();
        onAdd({ folder: folder.trim(), out: out.trim(), routine });
      }}
    >
      <TextInput
        label="Folder in"
        description="Its full path on this machine"
        placeholder="/pictures/in"
        value={folder}
        onChange={({ currentTarget }) => setFolder(currentTarget.value)}
      />
      <Select
        label="Routine"
        description="For every file that comes"
        size="xs"
        allowDeselect={false}
        data={routines.map(({ name }) => name)}
        value={routine}
        onChange={(name) => name && setRoutine(name)}
      />
      <TextInput
        label="Folder out"
        description="Another one, beside it"
        placeholder="/pictures/cut"
        value={out}
        onChange={({ currentTarget }) => setOut(currentTarget.value)}
      />
      <Button type="submit" size="xs" disabled={folder.trim() === '' || out.trim() === ''}>
        Watch it
      </Button>
    </form>
  );
}

function WatchCard({
  watch,
  onSwitch,
  onRemove,
}: {
  readonly watch: WatchFacts;
  readonly onSwitch: (on: boolean) => void;
  readonly onRemove: () => void;
}) {
  const { folder, out, routine, isOn, trouble, working, settled, counts } = watch;
  const tally = (Object.entries(counts) as [SettledFacts['state'], number][])
    .filter(([, count]) => count > 0)
    .map(([state, count]) => `${count} ${ITEM_WORDS[state]}`);
  return (
    <article className={classes.watch} aria-label={`Watched folder ${folder}`}>
      <div className={classes.watchHead}>
        <Switch
          checked={isOn}
          aria-label={`Watch ${folder}`}
          onChange={({ currentTarget }) => onSwitch(currentTarget.checked)}
        />
        <span className={classes.paths}>
          <strong>{folder}</strong> <span className={classes.soft}>by {routine.name} into</span> {out}
        </span>
        <Tooltip label="Watch it no longer; nothing in it is touched">
          <ActionIcon aria-label={`Watch ${folder} no longer`} onClick={onRemove}>
            <IconTrash size={16} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
      </div>
      {trouble ? (
        <p className={classes.problem} role="alert">
          <IconAlertTriangle size={15} stroke={1.8} aria-hidden="true" /> {trouble}
        </p>
      ) : (
        <p className={classes.soft}>
          {!isOn
            ? 'Not watched now.'
            : working.length > 0
              ? `Being cut: ${working.slice(0, 5).join(', ')}${working.length > 5 ? ` and ${working.length - 5} more` : ''}.`
              : 'Watching; nothing waits.'}{' '}
          {tally.length > 0 && `${tally.join(', ')}.`}
        </p>
      )}
      {settled.length > 0 && (
        <ul className={classes.settled}>
          {settled.slice(0, MOST_LISTED).map((one, k) => (
            <li key={`${one.at} ${k}`} data-state={one.state}>
              <span className={classes.settledName}>{one.name}</span>
              <span>{ITEM_WORDS[one.state]}</span>
              <span className={classes.soft}>
                {one.message || one.files.map((file) => file.name).join(', ')}
              </span>
              <span className={classes.soft}>{formatMoment(one.at)}</span>
            </li>
          ))}
        </ul>
      )}
    </article>
  );
}
