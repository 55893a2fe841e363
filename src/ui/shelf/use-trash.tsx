import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { useCallback, useState } from 'react';
import { api } from '../../bench/api';
import classes from './shelf.module.css';

/** How long the way back is offered; afterwards it is in the trash. */
const UNDO_MS = 8000;

/** Puts pieces into the trash and offers the way back. */
export function useTrash(onChanged: () => void) {
  const [problem, setProblem] = useState<string | null>(null);
  const discard = useCallback(
    async (ids: readonly string[]) => {
      const move = async (trashed: boolean) => {
        try {
          await api.setTrashed(ids, trashed);
          setProblem(null);
          onChanged();
          return true;
        } catch (error) {
          setProblem((error as Error).message);
          return false;
        }
      };
      if (!(await move(true))) return;
      const id = `trash-${ids[0]}-${ids.length}`;
      notifications.show({
        id,
        autoClose: UNDO_MS,
        withBorder: true,
        closeButtonProps: { 'aria-label': 'Close this note' },
        message: (
          <span className={classes.undo}>
            {ids.length === 1 ? '1 piece is in the trash.' : `${ids.length} pieces are in the trash.`}
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                notifications.hide(id);
                void move(false);
              }}
            >
              Undo
            </Button>
          </span>
        ),
      });
    },
    [onChanged],
  );
  return { discard, problem };
}
