import { Button, Select, TextInput } from '@mantine/core';
import { IconSearch, IconTrash } from '@tabler/icons-react';
import type { Arrangement, Kind, Order } from './arrange';
import classes from './shelf.module.css';

const ORDERS: readonly { readonly value: Order; readonly label: string }[] = [
  { value: 'newest', label: 'Newest first' },
  { value: 'oldest', label: 'Oldest first' },
  { value: 'name', label: 'By name' },
  { value: 'findings', label: 'Most findings first' },
];

const KINDS: readonly { readonly value: Kind; readonly label: string }[] = [
  { value: 'all', label: 'All pieces' },
  { value: 'untouched', label: 'Untouched' },
  { value: 'cut', label: 'Cut, not delivered' },
  { value: 'delivered', label: 'Delivered' },
  { value: 'findings', label: 'With findings' },
  { value: 'clean', label: 'All clean' },
];

interface Props {
  readonly arrangement: Arrangement;
  readonly onArrange: (arrangement: Arrangement) => void;
  readonly shown: number;
  readonly all: number;
  readonly trashed: number;
  readonly trashShown: boolean;
  readonly onTrash: () => void;
}

/** Search, filter, order, and the way to the trash. */
export function ArrangeBar({ arrangement, onArrange, shown, all, trashed, trashShown, onTrash }: Props) {
  return (
    <div className={classes.arrange} role="search" aria-label="Find pieces">
      <TextInput
        aria-label="Search by name"
        placeholder="Search by name"
        leftSection={<IconSearch size={14} stroke={1.7} aria-hidden="true" />}
        value={arrangement.search}
        disabled={trashShown}
        onChange={({ currentTarget }) => onArrange({ ...arrangement, search: currentTarget.value })}
        onKeyDown={(event) => {
          if (event.key === 'Escape') onArrange({ ...arrangement, search: '' });
        }}
      />
      <Select
        aria-label="Show"
        size="xs"
        allowDeselect={false}
        data={[...KINDS]}
        value={arrangement.kind}
        disabled={trashShown}
        onChange={(kind) => kind && onArrange({ ...arrangement, kind })}
      />
      <Select
        aria-label="Order"
        size="xs"
        allowDeselect={false}
        data={[...ORDERS]}
        value={arrangement.order}
        disabled={trashShown}
        onChange={(order) => order && onArrange({ ...arrangement, order })}
      />
      <span className={classes.count} aria-live="polite">
        {shown < all && !trashShown ? `${shown} of ${all}` : ''}
      </span>
      <span className={classes.space} />
      <Button
        size="xs"
        variant={trashShown ? 'filled' : 'default'}
        aria-pressed={trashShown}
        leftSection={<IconTrash size={14} stroke={1.7} aria-hidden="true" />}
        onClick={onTrash}
      >
        {trashShown ? 'Back to the Shelf' : `Trash${trashed > 0 ? `, ${trashed}` : ''}`}
      </Button>
    </div>
  );
}
