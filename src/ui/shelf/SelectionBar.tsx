import { Button } from '@mantine/core';
import classes from './shelf.module.css';

interface Props {
  readonly count: number;
  readonly onAll: () => void;
  readonly onClear: () => void;
  readonly onDiscard: () => void;
}

/** What can be done with the pieces that are selected; not there while none is. */
export function SelectionBar({ count, onAll, onClear, onDiscard }: Props) {
  if (count === 0) return null;
  return (
    <div className={classes.selection} role="toolbar" aria-label="Selected pieces">
      <strong aria-live="polite">{count === 1 ? '1 piece selected' : `${count} pieces selected`}</strong>
      <Button size="xs" variant="default" onClick={onAll}>
        Select all that are shown
      </Button>
      <Button size="xs" variant="default" onClick={onDiscard}>
        Put into the trash
      </Button>
      <Button size="xs" variant="subtle" color="gray" onClick={onClear}>
        Select none
      </Button>
    </div>
  );
}
