import { ActionIcon, SegmentedControl, Tooltip } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { PLACE_PX } from '../../core/stages/shapes';
import { cornersOf, type Corner } from '../../core/stages/touch-up/path';
import { AREA_OFFSET_PX, AREA_SOFTNESS_PX, type StrokeOf } from '../../core/stages/touch-up/settings';
import { useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { SliderField } from './SliderField';

/** Corners that have fields of their own; a freehand outline has hundreds. */
const MOST_FIELDS = 24;

/** The area that is chosen: what it does, its border, and its corners in numbers. */
export function AreaFields({ stroke, index }: { readonly stroke: StrokeOf<'area'>; readonly index: number }) {
  const actions = useBenchActions();
  const corners = cornersOf(stroke.corners);
  const moved = (k: number, change: Partial<Corner>, last: boolean) =>
    actions.setCorners(
      index,
      corners.map((corner, n) => (n === k ? { ...corner, ...change } : corner)),
      last,
    );
  return (
    <div className={classes.areaFields}>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="What this area does"
        value={stroke.does}
        onChange={(does) => actions.changeArea(index, { does }, true)}
        data={[
          { value: 'clear', label: 'Clear' },
          { value: 'restore', label: 'Bring back' },
          { value: 'only', label: 'Only here' },
          { value: 'never', label: 'Never here' },
        ]}
      />
      <SliderField
        label="Offset of the area"
        suffix=" px"
        min={AREA_OFFSET_PX.min / 10}
        max={AREA_OFFSET_PX.max / 10}
        step={0.1}
        value={stroke.offsetPx}
        onDraft={(offsetPx) => actions.changeArea(index, { offsetPx }, false)}
        onCommit={(offsetPx) => actions.changeArea(index, { offsetPx }, true)}
      />
      <SliderField
        label="Softness of the area"
        suffix=" px"
        min={AREA_SOFTNESS_PX.min}
        max={AREA_SOFTNESS_PX.max / 4}
        step={0.5}
        value={stroke.softnessPx}
        onDraft={(softnessPx) => actions.changeArea(index, { softnessPx }, false)}
        onCommit={(softnessPx) => actions.changeArea(index, { softnessPx }, true)}
      />
      {corners.length > MOST_FIELDS ? (
        <p className={classes.soft}>
          {corners.length} corners: drag them on the sheet. Up to {MOST_FIELDS} have numbers here.
        </p>
      ) : (
        <ol className={classes.cornerFields} aria-label="Corners">
          {corners.map((corner, k) => (
            <li key={k}>
              <span className={classes.printNumber}>{k + 1}</span>
              {(['x', 'y'] as const).map((axis) => (
                <NumberField
                  key={axis}
                  aria-label={`Corner ${k + 1}, ${axis}`}
                  {...PLACE_PX}
                  decimalScale={1}
                  value={corner[axis]}
                  onCommit={(value) => moved(k, { [axis]: value }, true)}
                />
              ))}
              {stroke.shape === 'outline' && (
                <>
                  <Tooltip label="Add a corner behind it">
                    <ActionIcon
                      size={22}
                      aria-label={`Add a corner behind corner ${k + 1}`}
                      onClick={() => actions.setCorners(index, withOneMore(corners, k), true)}
                    >
                      <IconPlus size={14} stroke={1.6} />
                    </ActionIcon>
                  </Tooltip>
                  <Tooltip label="Remove it">
                    <ActionIcon
                      size={22}
                      aria-label={`Remove corner ${k + 1}`}
                      disabled={corners.length < 4}
                      onClick={() =>
                        actions.setCorners(
                          index,
                          corners.filter((_, n) => n !== k),
                          true,
                        )
                      }
                    >
                      <IconX size={14} stroke={1.6} />
                    </ActionIcon>
                  </Tooltip>
                </>
              )}
            </li>
          ))}
        </ol>
      )}
    </div>
  );
}

/** Corners with another one half way from one to the next. */
export function withOneMore(corners: readonly Corner[], k: number): Corner[] {
  const [one, next] = [corners[k]!, corners[(k + 1) % corners.length]!];
  const between: Corner = { x: (one.x + next.x) / 2, y: (one.y + next.y) / 2, handle: null };
  return [...corners.slice(0, k + 1), between, ...corners.slice(k + 1)];
}
