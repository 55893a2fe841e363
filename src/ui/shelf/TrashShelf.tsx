import { Button } from '@mantine/core';
import { useState } from 'react';
import { api, type QuarantineFacts, type ShelfPieceFacts } from '../../bench/api';
import { backingStyle } from '../backing-style';
import { formatBytes } from '../format';
import classes from './shelf.module.css';

/** The pieces that were thrown away: each can come back, until the trash is emptied. */
export function TrashShelf({
  pieces,
  quarantine,
  onChanged,
}: {
  readonly pieces: readonly ShelfPieceFacts[];
  readonly quarantine: QuarantineFacts;
  readonly onChanged: () => void;
}) {
  const [asking, setAsking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const run = async (work: () => Promise<unknown>) => {
    try {
      await work();
      setProblem(null);
      onChanged();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  if (pieces.length === 0)
    return (
      <section aria-label="Trash">
        <p className={classes.nothing}>The trash is empty.</p>
        <Quarantine {...quarantine} />
      </section>
    );
  const many = pieces.length === 1 ? '1 piece' : `${pieces.length} pieces`;
  return (
    <section aria-label="Trash">
      <div className={classes.selection}>
        {asking ? (
          <>
            <strong>Delete {many} for good, with originals and deliveries?</strong>
            <Button
              size="xs"
              color="red"
              onClick={() => {
                setAsking(false);
                void run(api.emptyTrash);
              }}
            >
              Delete {many}
            </Button>
            <Button size="xs" variant="default" autoFocus onClick={() => setAsking(false)}>
              Keep them
            </Button>
          </>
        ) : (
          <>
            <span>{many} in the trash. They stay here until it is emptied.</span>
            <Button
              size="xs"
              variant="default"
              onClick={() =>
                void run(() =>
                  api.setTrashed(
                    pieces.map(({ id }) => id),
                    false,
                  ),
                )
              }
            >
              Bring all back
            </Button>
            <Button size="xs" variant="default" onClick={() => setAsking(true)}>
              Empty the trash
            </Button>
          </>
        )}
      </div>
      {problem && (
        <p className={classes.problem} role="alert">
          {problem}
        </p>
      )}
      <ul className={classes.grid}>
        {pieces.map(({ id, name, backing, revision, createdAt }) => (
          <li key={id} className={classes.card}>
            <div className={classes.link}>
              <span className={classes.picture} style={backingStyle(backing, 8)}>
                {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
                <img src={api.thumbnailAddress({ id, revision, createdAt })} alt="" loading="lazy" />
              </span>
              <span className={classes.nameLine}>
                <span className={classes.name} title={name}>
                  {name}
                </span>
              </span>
              <span className={classes.facts}>
                <Button
                  size="compact-xs"
                  variant="default"
                  aria-label={`Bring ${name} back`}
                  onClick={() => void run(() => api.setTrashed([id], false))}
                >
                  Bring back
                </Button>
              </span>
            </div>
          </li>
        ))}
      </ul>
      <Quarantine {...quarantine} />
    </section>
  );
}

/** Names the files that no piece names any more, so that nothing goes unsaid. */
function Quarantine({ folder, files, bytes, days }: QuarantineFacts) {
  if (files === 0) return null;
  return (
    <p className={classes.quarantine}>
      {files === 1 ? '1 file that no piece names lies' : `${files} files that no piece names lie`} aside in{' '}
      <code>{folder}</code> ({formatBytes(bytes)}). What lies there is removed when Kenosis starts {days} days
      or more after the day its folder is called by; until then it can be copied from there.
    </p>
  );
}
