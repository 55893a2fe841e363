'use client';

import { ActionIcon, Button, Tooltip } from '@mantine/core';
import { IconChevronRight, IconKeyboard, IconLayoutBoard, IconStack2 } from '@tabler/icons-react';
import Link from 'next/link';
import { Mark } from '../frame/Mark';
import { SaveNote } from '../frame/SaveNote';
import { ThemeSwitch } from '../frame/ThemeSwitch';
import { UndoRedo } from '../frame/UndoRedo';
import { BackingSwatches } from './BackingSwatches';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { ViewMenu } from './ViewMenu';
import { ZoomControls } from './ZoomControls';

/** The bar on top: where one is, undo and redo, looking, and the way to Deliver. */
export function BenchHeader({ onKeys }: { readonly onKeys: () => void }) {
  const name = useBench((state) => state.piece.name);
  const stage = useBench((state) => state.stage);
  const undo = useBench((state) => state.undo);
  const redo = useBench((state) => state.redo);
  const trying = useBench((state) => state.trying);
  const saving = useBench((state) => state.saving);
  const actions = useBenchActions();
  return (
    <header className={classes.header}>
      <nav className={classes.path} aria-label="Where you are">
        <Link href="/" className={classes.home}>
          <Mark />
          Shelf
        </Link>
        <IconChevronRight size={14} stroke={1.6} aria-hidden="true" />
        <h1 title={name}>{name}</h1>
      </nav>
      <UndoRedo undo={undo} redo={redo} onUndo={actions.undo} onRedo={actions.redo} />
      <SaveNote saving={saving} onRetry={actions.retrySaving} />
      <span className={classes.space} />
      <BackingSwatches />
      <ViewMenu />
      <OriginalButton />
      <ZoomControls />
      <span className={classes.divider} />
      <Tooltip label="Try it on: letter, slide, site, photo (R)">
        <ActionIcon
          aria-label="Try it on"
          aria-pressed={trying}
          variant={trying ? 'light' : 'subtle'}
          onClick={actions.toggleTrying}
        >
          <IconLayoutBoard size={18} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
      <LayOnOthers />
      <Tooltip label="Keys (?)">
        <ActionIcon aria-label="Keys" onClick={onKeys}>
          <IconKeyboard size={18} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
      <ThemeSwitch />
      <Button
        size="xs"
        variant={stage === 'deliver' ? 'default' : 'filled'}
        onClick={() => actions.setStage('deliver')}
        aria-pressed={stage === 'deliver'}
      >
        Deliver
      </Button>
    </header>
  );
}

function LayOnOthers() {
  const { id } = useBench((state) => state.piece);
  return (
    <Tooltip label="Lay its settings on other pieces">
      <ActionIcon component={Link} href={`/lay/${id}`} aria-label="Lay its settings on other pieces">
        <IconStack2 size={18} stroke={1.6} />
      </ActionIcon>
    </Tooltip>
  );
}

function OriginalButton() {
  const look = useBench((state) => state.look);
  const actions = useBenchActions();
  const show = () => actions.setLook('original');
  const hide = () => actions.setLook('result');
  return (
    <Tooltip label="Hold to see the original (hold O)">
      <Button
        size="xs"
        variant="default"
        data-held={look === 'original' || undefined}
        className={classes.hold}
        onPointerDown={show}
        onPointerUp={hide}
        onPointerLeave={hide}
        onBlur={hide}
        onKeyDown={(event) => {
          if (event.key === ' ' || event.key === 'Enter') show();
        }}
        onKeyUp={hide}
      >
        Original
      </Button>
    </Tooltip>
  );
}
