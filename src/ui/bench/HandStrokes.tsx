import { ActionIcon, Button, Switch, Tooltip, UnstyledButton, VisuallyHidden } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconTrash } from '@tabler/icons-react';
import { memo, useMemo } from 'react';
import { api } from '../../bench/api';
import { boundsOf, closedLine, pathOf, type Path } from '../../core/stages/touch-up/path';
import { pathTextOf, strokeWords, type HandStroke } from '../../core/stages/touch-up/settings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { AreaFields } from './AreaFields';

/** Strokes that are listed at a time, newest first. */
const LISTED = 60;

/** All strokes in the order in which they were made, like contact prints: the newest first. */
export function HandStrokes() {
  // The list waits until a stroke ends: it would be drawn again with every move.
  const strokes = useBench(({ cut, ledHand }) => ledHand?.before ?? cut.touchUp.strokes);
  const onlyActing = useBench(({ hand }) => hand.onlyActing);
  const idle = useIdle();
  const actions = useBenchActions();
  if (strokes.length === 0)
    return (
      <p className={classes.hint}>
        No stroke yet. Each will be listed here, to be moved or deleted by itself.
      </p>
    );
  const listed = strokes
    .map((stroke, index) => ({ stroke, index }))
    .filter(({ index }) => !onlyActing || !idle.has(index))
    .reverse();
  return (
    <section aria-label="Strokes">
      <div className={classes.sliderHead}>
        <h2>{strokes.length === 1 ? '1 stroke' : `${strokes.length} strokes`}</h2>
        {idle.size > 0 && <span className={classes.soft}>{idle.size} change nothing</span>}
      </div>
      {(idle.size > 0 || onlyActing) && (
        <Switch
          size="xs"
          label="Only strokes that change something"
          checked={onlyActing}
          onChange={({ currentTarget }) => actions.setHand({ onlyActing: currentTarget.checked })}
        />
      )}
      <ol className={classes.prints} onPointerLeave={() => actions.hoverStroke(null)}>
        {listed.slice(0, LISTED).map(({ stroke, index }) => (
          <StrokeRow
            key={index}
            stroke={stroke}
            index={index}
            count={strokes.length}
            idle={idle.has(index)}
          />
        ))}
      </ol>
      {listed.length > LISTED && <p className={classes.soft}>and {listed.length - LISTED} older ones</p>}
      {strokes.length > 1 && (
        <Button size="xs" variant="default" onClick={actions.deleteHandStrokes}>
          Delete all {strokes.length} strokes
        </Button>
      )}
    </section>
  );
}

/** The strokes that change nothing any more, as far as the checks have looked at this cut. */
function useIdle(): ReadonlySet<number> {
  const idle = useBench(({ checked, stale }) => (stale ? null : checked?.idleStrokes));
  return useMemo(() => new Set(idle ?? []), [idle]);
}

interface RowProps {
  readonly stroke: HandStroke;
  readonly index: number;
  readonly count: number;
  readonly idle: boolean;
}

const StrokeRow = memo(function StrokeRow({ stroke, index, count, idle }: RowProps) {
  const isChosen = useBench(({ hand }) => hand.chosen === index);
  const actions = useBenchActions();
  const words = strokeWords(stroke);
  const name = `stroke ${index + 1}`;
  return (
    <li
      data-chosen={isChosen || undefined}
      data-idle={idle || undefined}
      onPointerEnter={() => actions.hoverStroke(index)}
    >
      <UnstyledButton
        className={classes.print}
        aria-expanded={isChosen}
        onFocus={() => actions.hoverStroke(index)}
        onBlur={() => actions.hoverStroke(null)}
        onClick={() => actions.chooseStroke(isChosen ? null : index)}
      >
        <StrokePicture stroke={stroke} />
        <span>
          <span className={classes.printNumber}>{index + 1}</span> {words}
          <span className={classes.soft}> {idle ? 'changes nothing' : sizeWords(stroke)}</span>
        </span>
        <VisuallyHidden> {isChosen ? 'chosen' : 'show it on the sheet'}</VisuallyHidden>
      </UnstyledButton>
      <span className={classes.printTools}>
        <Tooltip label="Let it act later">
          <ActionIcon
            size={22}
            aria-label={`Move ${name} later`}
            disabled={index === count - 1}
            onClick={() => actions.moveHandStroke(index, 1)}
          >
            <IconArrowUp size={14} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Let it act earlier">
          <ActionIcon
            size={22}
            aria-label={`Move ${name} earlier`}
            disabled={index === 0}
            onClick={() => actions.moveHandStroke(index, -1)}
          >
            <IconArrowDown size={14} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Delete it; the others stay">
          <ActionIcon size={22} aria-label={`Delete ${name}`} onClick={() => actions.deleteHandStroke(index)}>
            <IconTrash size={14} stroke={1.6} />
          </ActionIcon>
        </Tooltip>
      </span>
      {isChosen && stroke.kind === 'area' && <AreaFields stroke={stroke} index={index} />}
    </li>
  );
});

function sizeWords(stroke: HandStroke): string {
  switch (stroke.kind) {
    case 'brush':
    case 'edge': {
      const parts = [`${Math.round(2 * stroke.radiusPx)}\u00a0px`];
      if (stroke.softness > 0) parts.push(`soft\u00a0${Math.round(stroke.softness)}\u00a0%`);
      if (stroke.strength < 100) parts.push(`${Math.round(stroke.strength)}\u00a0%`);
      return parts.join(', ');
    }
    case 'gap':
      return `${stroke.widthPx}\u00a0px`;
    case 'area':
      return stroke.shape === 'outline' ? `${stroke.corners.split(' ').length} corners` : stroke.shape;
    case 'island':
      return `at ${stroke.x}, ${stroke.y}`;
  }
}

/** Side of the small picture in CSS pixels, and how much around the stroke it shows. */
const PRINT = 40;
const AROUND_SHARE = 0.35;
const LEAST_SHOWN_SHARE = 0.12;

/** The stroke on the piece around it, as a contact print. */
function StrokePicture({ stroke }: { readonly stroke: HandStroke }) {
  const piece = useBench((state) => state.piece);
  const { box, points } = useMemo(() => {
    const line =
      stroke.kind === 'area' ? closedLine(stroke.shape, stroke.corners) : pathOf(pathTextOf(stroke));
    const radius = stroke.kind === 'brush' || stroke.kind === 'edge' ? stroke.radiusPx : 0;
    return {
      box: squareAround(line, radius, piece),
      points: [...line.xs].map((x, k) => `${x},${line.ys[k]}`).join(' '),
    };
  }, [stroke, piece]);
  const scale = PRINT / box.side;
  const width = strokeWidth(stroke, scale);
  return (
    <svg
      className={classes.printPicture}
      width={PRINT}
      height={PRINT}
      viewBox={`${box.x} ${box.y} ${box.side} ${box.side}`}
      aria-hidden="true"
    >
      <image
        href={api.untouchedAddress(piece.id)}
        x={0}
        y={0}
        width={piece.width}
        height={piece.height}
        preserveAspectRatio="none"
      />
      {stroke.kind === 'area' ? (
        <>
          <polygon points={points} fill="none" stroke="#ffffff" strokeWidth={3.4 / scale} />
          <polygon points={points} fill="none" stroke="#1c1c1c" strokeWidth={1.4 / scale} />
        </>
      ) : (
        <>
          <polyline points={doubled(points)} className={classes.printRim} strokeWidth={width + 2.4 / scale} />
          <polyline points={doubled(points)} className={classes.printLine} strokeWidth={width} />
        </>
      )}
    </svg>
  );
}

/** A line of one place is drawn as a dot only where it goes there twice. */
function doubled(points: string): string {
  return points.includes(' ') ? points : `${points} ${points}`;
}

function strokeWidth(stroke: HandStroke, scale: number): number {
  const own =
    stroke.kind === 'brush' || stroke.kind === 'edge'
      ? 2 * stroke.radiusPx
      : stroke.kind === 'gap'
        ? stroke.widthPx
        : 0;
  return Math.max(stroke.kind === 'island' ? 8 / scale : 2.4 / scale, own);
}

/** The square of the piece that a small picture of a line shows. */
function squareAround(
  line: Path,
  radius: number,
  piece: { readonly width: number; readonly height: number },
) {
  const { left, top, right, bottom } = boundsOf(line);
  const longest = Math.max(right - left, bottom - top) + 2 * radius;
  const side = Math.max(
    longest * (1 + AROUND_SHARE),
    LEAST_SHOWN_SHARE * Math.max(piece.width, piece.height),
  );
  return { x: (left + right - side) / 2, y: (top + bottom - side) / 2, side };
}
