import { Button } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Says when a change could not be saved, and offers what to do. Silent as long as all is well. */
export function SaveNote() {
  const { state, error } = useBench((bench) => bench.saving);
  const actions = useBenchActions();
  if (state !== 'failed') return null;
  const conflict = error?.code === 'conflict';
  return (
    <span className={classes.saveNote} role="alert">
      <IconAlertTriangle size={16} stroke={1.8} aria-hidden="true" />
      <span title={error?.message}>{error?.message}</span>
      <Button
        size="xs"
        variant="default"
        onClick={conflict ? () => window.location.reload() : actions.retrySaving}
      >
        {conflict ? 'Reload' : 'Save again'}
      </Button>
    </span>
  );
}
