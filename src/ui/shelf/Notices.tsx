import { ActionIcon } from '@mantine/core';
import { IconInfoCircle, IconX } from '@tabler/icons-react';
import { useState } from 'react';
import classes from './shelf.module.css';

/** How the data were found when Kenosis started, where that is worth a word; until it is dismissed. */
export function Notices({ notices }: { readonly notices: readonly string[] }) {
  const [dismissed, setDismissed] = useState(false);
  if (dismissed || notices.length === 0) return null;
  return (
    <div className={classes.notices} role="status">
      <IconInfoCircle size={18} stroke={1.7} aria-hidden="true" />
      <div>
        {notices.map((notice) => (
          <p key={notice}>{notice}</p>
        ))}
      </div>
      <ActionIcon aria-label="Dismiss these notes" onClick={() => setDismissed(true)}>
        <IconX size={15} stroke={1.8} />
      </ActionIcon>
    </div>
  );
}
