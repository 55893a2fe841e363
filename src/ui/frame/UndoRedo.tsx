import { ActionIcon, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import classes from './frame.module.css';

interface Props {
  /** What would be taken back, and brought again; null where there is nothing. */
  readonly undo: string | null;
  readonly redo: string | null;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
}

export function UndoRedo({ undo, redo, onUndo, onRedo }: Props) {
  return (
    <div className={classes.group}>
      <Tooltip label={undo ? `Undo: ${undo}` : 'Nothing to undo'}>
        <ActionIcon aria-label="Undo" disabled={undo === null} onClick={onUndo}>
          <IconArrowBackUp size={18} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
      <Tooltip label={redo ? `Redo: ${redo}` : 'Nothing to redo'}>
        <ActionIcon aria-label="Redo" disabled={redo === null} onClick={onRedo}>
          <IconArrowForwardUp size={18} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
    </div>
  );
}
