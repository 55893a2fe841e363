import { IconAlertTriangle } from '@tabler/icons-react';
import type { UnreadableRow } from '../../core/document';
import classes from './frame.module.css';

/** Rows whose documents cannot be read: each says so, and what is kept of it can be saved. */
export function UnreadableRows({ rows }: { readonly rows: readonly UnreadableRow[] }) {
  if (rows.length === 0) return null;
  return (
    <ul className={classes.unreadable} aria-label="What cannot be read">
      {rows.map(({ kind, id, name, why }) => (
        <li key={`${kind} ${id}`}>
          <IconAlertTriangle size={16} stroke={1.8} aria-hidden="true" />
          <span>
            The {kind} “{name}” cannot be read and was left as it is: {why}
          </span>
          <a href={`/api/unreadable/${kind}/${encodeURIComponent(id)}`} download>
            Save its document
          </a>
        </li>
      ))}
    </ul>
  );
}
