import { ActionIcon, Button, Tooltip } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import type { Stroke } from '../../core/stages/shapes';
import classes from './bench.module.css';

/** Strokes that are listed at a time, newest first. */
const LISTED = 5;

interface StrokeListProps<T extends Stroke> {
  /** What one is called. */
  readonly name: 'stroke' | 'mark';
  readonly strokes: readonly T[];
  readonly wordsOf?: (stroke: T) => string;
  readonly onDelete: (index: number) => void;
  readonly onDeleteAll: () => void;
}

/** The newest strokes of a brush, each of which can be deleted. */
export function StrokeList<T extends Stroke>({
  name,
  strokes,
  wordsOf,
  onDelete,
  onDeleteAll,
}: StrokeListProps<T>) {
  if (strokes.length === 0) return <p className={classes.hint}>No {name} yet</p>;
  const title = name === 'stroke' ? 'Stroke' : 'Mark';
  const newest = strokes.map((stroke, index) => ({ stroke, index })).reverse();
  return (
    <>
      <ol className={classes.strokeList} aria-label={`${title}s`}>
        {newest.slice(0, LISTED).map(({ stroke, index }) => (
          <li key={index}>
            <span>
              {title} {index + 1}
              {wordsOf ? `: ${wordsOf(stroke)}` : ''}, {Math.round(2 * stroke.radiusPx)} px wide
            </span>
            <Tooltip label={`Delete this ${name}`}>
              <ActionIcon
                size={22}
                aria-label={`Delete ${name} ${index + 1}`}
                onClick={() => onDelete(index)}
              >
                <IconTrash size={15} stroke={1.6} />
              </ActionIcon>
            </Tooltip>
          </li>
        ))}
      </ol>
      {strokes.length > 1 && (
        <Button size="xs" variant="default" onClick={onDeleteAll}>
          Delete all {strokes.length} {name}s
        </Button>
      )}
    </>
  );
}
