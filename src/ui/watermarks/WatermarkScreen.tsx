'use client';

import { SegmentedControl, TextInput } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useEffect, useState } from 'react';
import { createWatermarkStore, type WatermarkStore } from '../../bench/watermark-store';
import type { OpenWatermarkFacts } from '../../bench/watermarks-api';
import { LONGEST_WATERMARK_NAME } from '../../core/watermark/settings';
import { SaveNote } from '../frame/SaveNote';
import { ScreenHeader } from '../frame/ScreenHeader';
import { UndoRedo } from '../frame/UndoRedo';
import { useUndoKeys } from '../frame/use-undo-keys';
import { useGathered } from '../runs/Gathering';
import { useBringing } from '../shelf/use-bringing';
import { LookPanel } from './LookPanel';
import { MarkPanel } from './MarkPanel';
import { PartsPanel } from './PartsPanel';
import { PlacePanel } from './PlacePanel';
import { Samples } from './Samples';
import { useWatermark, useWatermarkActions, WatermarkContext } from './watermark-context';
import classes from './watermarks.module.css';

type WatermarkTab = 'parts' | 'look' | 'place' | 'photos';

/** One watermark: what it is made of, how it looks and stands, the mark on six photos, and the photos to put it on. */
export function WatermarkScreen({
  opened,
  tab,
}: {
  readonly opened: OpenWatermarkFacts;
  readonly tab: WatermarkTab;
}) {
  const [watermark, setWatermark] = useState<WatermarkStore | null>(null);
  useEffect(() => {
    const made = createWatermarkStore(opened);
    // oxlint-disable-next-line react/set-state-in-effect -- a worker must not be started while rendering
    setWatermark(made);
    return () => made.actions.close();
    // The server's state is where the screen starts from; afterwards the screen leads.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [opened.state.id]);
  if (!watermark) return <div className={classes.screen} aria-busy="true" />;
  return (
    <WatermarkContext value={watermark}>
      <Opened first={tab} />
    </WatermarkContext>
  );
}

function Opened({ first }: { readonly first: WatermarkTab }) {
  const name = useWatermark((state) => state.watermark.name);
  const undo = useWatermark((state) => state.undo);
  const redo = useWatermark((state) => state.redo);
  const saving = useWatermark((state) => state.saving);
  const trouble = useWatermark((state) => state.trouble);
  const actions = useWatermarkActions();
  const [tab, setTab] = useState<WatermarkTab>(first);
  const gathered = useGathered({ asPhotos: true });
  const { bring } = useBringing(gathered.intake);
  useUndoKeys(actions);
  useEffect(() => {
    const again = () => void actions.lookAgain();
    window.addEventListener('focus', again);
    return () => window.removeEventListener('focus', again);
  }, [actions]);
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="watermarks" title={name}>
        <UndoRedo undo={undo} redo={redo} onUndo={actions.undo} onRedo={actions.redo} />
        <SaveNote saving={saving} onRetry={actions.retrySaving} />
      </ScreenHeader>
      {trouble !== null && (
        <p className={classes.note} role="alert">
          {trouble}
        </p>
      )}
      <main className={classes.main}>
        <Dropzone.FullScreen
          active
          withinPortal={false}
          onDrop={(files) => {
            setTab('photos');
            void bring(files);
          }}
          inputProps={{ 'aria-label': 'Photos to put the mark on' }}
          className={classes.dropAll}
        >
          <p className={classes.dropWords}>Drop photos: the mark is put on them.</p>
        </Dropzone.FullScreen>
        <Samples />
        <aside className={classes.column} aria-label="Settings of the watermark">
          <div className={classes.tabs}>
            <SegmentedControl
              fullWidth
              aria-label="What is set"
              value={tab}
              onChange={(next) => setTab(next)}
              data={[
                { value: 'parts', label: 'Parts' },
                { value: 'look', label: 'Look' },
                { value: 'place', label: 'Place' },
                { value: 'photos', label: 'Photos' },
              ]}
            />
          </div>
          {tab === 'parts' && (
            <>
              <NameField key={name} name={name} />
              <PartsPanel />
            </>
          )}
          {tab === 'look' && <LookPanel />}
          {tab === 'place' && <PlacePanel />}
          {tab === 'photos' && <MarkPanel gathered={gathered} />}
        </aside>
      </main>
    </div>
  );
}

function NameField({ name }: { readonly name: string }) {
  const actions = useWatermarkActions();
  const [typed, setTyped] = useState(name);
  const isBad = typed.trim() === '' || /[\p{C}/\\]/u.test(typed);
  const commit = () => {
    if (!isBad) actions.change({ name: typed.trim() });
    else setTyped(name);
  };
  return (
    <div className={classes.block}>
      <TextInput
        label="Name"
        size="xs"
        maxLength={LONGEST_WATERMARK_NAME}
        value={typed}
        error={isBad ? 'Letters are needed, without / and \\.' : undefined}
        onChange={({ currentTarget }) => setTyped(currentTarget.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          if (event.key === 'Enter') commit();
        }}
      />
    </div>
  );
}
