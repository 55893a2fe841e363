import { SegmentedControl, UnstyledButton } from '@mantine/core';
import { MOST_MARKS, type Mark } from '../../core/stages/clear/settings';
import { BRUSH_PX } from '../../core/stages/shapes';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { StrokeList } from './StrokeList';

/** Clear by marks: rough strokes over what stays and what goes. */
export function ByMarksSettings() {
  const goes = useBench((state) => state.markGoes);
  const marks = useBench((state) => state.cut.clear.marks);
  const brushPx = useBench((state) => state.brushPx);
  const actions = useBenchActions();
  return (
    <>
      <SegmentedControl
        fullWidth
        aria-label="What the brush marks"
        value={goes ? 'goes' : 'stays'}
        onChange={(value) => actions.setMarkGoes(value === 'goes')}
        data={[
          { value: 'stays', label: 'Stays' },
          { value: 'goes', label: 'Goes' },
        ]}
      />
      <p className={classes.soft}>{whatToDo(marks)}</p>
      <NumberField
        label="Brush"
        description="Smaller and larger with [ and ], the other side with B"
        suffix=" px"
        min={2 * BRUSH_PX.min}
        max={2 * BRUSH_PX.max}
        value={brushPx}
        onCommit={(value) => actions.setBrush(value)}
      />
      {marks.length >= MOST_MARKS ? (
        <p className={classes.note} role="status">
          A cut holds at most {MOST_MARKS} marks.{' '}
          <UnstyledButton className={classes.plainLink} onClick={actions.deleteMarks}>
            Delete all
          </UnstyledButton>
        </p>
      ) : (
        <StrokeList
          name="mark"
          strokes={marks}
          wordsOf={(mark) => (mark.goes ? 'goes' : 'stays')}
          onDelete={actions.deleteMark}
          onDeleteAll={actions.deleteMarks}
        />
      )}
    </>
  );
}

/** The next thing to do, in a sentence. */
function whatToDo(marks: readonly Mark[]): string {
  const goes = marks.some((mark) => mark.goes);
  const stays = marks.some((mark) => !mark.goes);
  if (goes && stays)
    return 'Where the result is wrong, mark that place: each stroke is taken into the decision, and can be undone or deleted.';
  if (goes) return 'Now draw a stroke or two over what stays, from one end of it to the other.';
  if (stays) return 'Now mark what goes: a few strokes all around, over each color that is there.';
  return 'Draw a rough stroke or two over what stays, then a few over what goes. They need not be exact, only on the right side.';
}
