import { Button } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useEffect } from 'react';
import type { SaveReport } from '../../bench/save-queue';
import classes from './frame.module.css';

/**
 * Says when a change could not be saved, and offers what to do; the browser asks before the page is left with one that is
 * not saved. Silent as long as all is well.
 */
export function SaveNote({
  saving: { state, error },
  onRetry,
}: {
  readonly saving: SaveReport;
  readonly onRetry: () => void;
}) {
  useEffect(() => {
    if (state === 'saved') return undefined;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [state]);
  if (state !== 'failed') return null;
  const conflict = error?.code === 'conflict';
  return (
    <span className={classes.saveNote} role="alert">
      <IconAlertTriangle size={16} stroke={1.8} aria-hidden="true" />
      <span title={error?.message}>{error?.message}</span>
      <Button size="xs" variant="default" onClick={conflict ? () => window.location.reload() : onRetry}>
        {conflict ? 'Reload' : 'Save again'}
      </Button>
    </span>
  );
}
