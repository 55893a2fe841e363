import { Button } from '@mantine/core';
import { useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';
import { backingStyle } from '../backing-style';
import classes from './shelf.module.css';

/** The pieces that were thrown away: each can come back, until the trash is emptied. */
export function TrashShelf({
  pieces,
  onChanged,
}: {
  readonly pieces: readonly ShelfPieceFacts[];
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
  if (pieces.length === 0) return <p className={classes.nothing}>The trash is empty.</p>;
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
                {/* eslint-disable-next-line @next/next/no-img-element -- already small, made by this server */}
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
    </section>
  );
}
