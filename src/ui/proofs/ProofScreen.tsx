'use client';

import { ActionIcon, Button } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { IconX } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { createProofStore, type ProofStore } from '../../bench/proof-store';
import type { OpenProofFacts } from '../../bench/proofs-api';
import { SaveNote } from '../frame/SaveNote';
import { ScreenHeader } from '../frame/ScreenHeader';
import { UndoRedo } from '../frame/UndoRedo';
import { useUndoKeys } from '../frame/use-undo-keys';
import { Board } from './Board';
import { GroundPanel } from './GroundPanel';
import { ProofContext, useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { Wall } from './Wall';
import { WallPanel } from './WallPanel';

/** One proof: its grounds on a wall, or one of them open. */
export function ProofScreen({
  opened,
  ground,
}: {
  readonly opened: OpenProofFacts;
  /** The ground that is open at first; null for all of them. */
  readonly ground: string | null;
}) {
  const [proof, setProof] = useState<ProofStore | null>(null);
  useEffect(() => {
    const made = createProofStore(opened);
    if (opened.state.proof.grounds.some(({ id }) => id === ground)) made.actions.open(ground);
    // oxlint-disable-next-line react/set-state-in-effect -- pictures must not be asked for while rendering
    setProof(made);
    return () => made.actions.close();
    // The server's state is where the screen starts from; afterwards the screen leads.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [opened.state.id]);
  if (!proof) return <div className={classes.screen} aria-busy="true" />;
  return (
    <ProofContext value={proof}>
      <Opened />
    </ProofContext>
  );
}

function Opened() {
  const name = useProof((state) => state.name);
  const ground = useProof((state) => state.opened);
  const isTemplate = useProof((state) => state.isTemplate);
  const undo = useProof((state) => state.undo);
  const redo = useProof((state) => state.redo);
  const saving = useProof((state) => state.saving);
  const trouble = useProof((state) => state.trouble);
  const actions = useProofActions();
  useUndoKeys(actions);
  useEffect(() => {
    const again = () => void actions.lookAgain();
    window.addEventListener('focus', again);
    return () => window.removeEventListener('focus', again);
  }, [actions]);
  return (
    <div className={classes.screen}>
      <ScreenHeader screen="proofs" title={isTemplate ? `${name} (template)` : name}>
        <UndoRedo undo={undo} redo={redo} onUndo={actions.undo} onRedo={actions.redo} />
        {ground !== null && (
          <Button size="xs" variant="default" onClick={() => actions.open(null)}>
            All grounds
          </Button>
        )}
        <SaveNote saving={saving} onRetry={actions.retrySaving} />
      </ScreenHeader>
      <Changed />
      {trouble !== null && (
        <p className={classes.note} role="alert" data-bad>
          {trouble}
        </p>
      )}
      <main className={classes.main}>
        <Dropzone.FullScreen
          active
          withinPortal={false}
          onDrop={(files) => {
            for (const file of files) void actions.bring(file);
          }}
          inputProps={{ 'aria-label': 'PDF or picture to bring as a ground' }}
          className={classes.dropAll}
        >
          <p className={classes.dropWords}>Drop a PDF or a picture: it becomes a ground.</p>
        </Dropzone.FullScreen>
        {ground === null ? <Wall /> : <Board id={ground} />}
        <aside className={classes.column} aria-label="Settings of the proof">
          {ground === null ? <WallPanel /> : <GroundPanel id={ground} />}
        </aside>
      </main>
    </div>
  );
}

/** Says that the cut of a piece is another one than when the proof was looked at last. */
function Changed() {
  const changed = useProof((state) => state.changed);
  const pieces = useProof((state) => state.pieces);
  const actions = useProofActions();
  if (changed.length === 0) return null;
  const names = changed.map((id) => pieces[id]?.name ?? 'a piece').join(', ');
  return (
    <p className={classes.note} role="status">
      {names} {changed.length === 1 ? 'was' : 'were'} changed on the bench since this proof was looked at
      last. It shows {changed.length === 1 ? 'it' : 'them'} as {changed.length === 1 ? 'it is' : 'they are'}{' '}
      now.
      <ActionIcon size={20} aria-label="Close this note" onClick={actions.dismissChanged}>
        <IconX size={14} stroke={1.8} />
      </ActionIcon>
    </p>
  );
}
