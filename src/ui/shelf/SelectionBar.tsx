import { Button } from '@mantine/core';
import Link from 'next/link';
import { api } from '../../bench/api';
import classes from './shelf.module.css';

interface Props {
  readonly ids: readonly string[];
  readonly onAll: () => void;
  readonly onClear: () => void;
  readonly onDiscard: () => void;
}

/** What can be done with the pieces that are selected; not there while none is. */
export function SelectionBar({ ids, onAll, onClear, onDiscard }: Props) {
  const count = ids.length;
  if (count === 0) return null;
  return (
    <div className={classes.selection} role="toolbar" aria-label="Selected pieces">
      <strong aria-live="polite">{count === 1 ? '1 piece selected' : `${count} pieces selected`}</strong>
      <Button size="xs" variant="default" onClick={onAll}>
        Select all that are shown
      </Button>
      <Button size="xs" component={Link} href="/runs">
        Run a routine on them
      </Button>
      <Button size="xs" variant="default" component={Link} href="/watermarks">
        Mark them
      </Button>
      <Button size="xs" variant="default" component="a" href={api.bundleAddress(ids, 'pieces')}>
        Export as a bundle
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
