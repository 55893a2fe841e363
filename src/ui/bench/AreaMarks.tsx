import { UnstyledButton } from '@mantine/core';
import type { PocketPlace } from '../../core/findings/pockets';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** How many areas are numbered on the sheet; smaller ones would only cover it. */
const NUMBERED = 40;

/** With more areas than these only the one that is looked at has its two words. */
const WORDED = 12;

/** An area on the screen that is smaller than this, in CSS pixels, has its tag above it. */
const ROOM = { width: 130, height: 44 } as const;

const TAG_APART = 4;

/** Areas that are not sure, dotted, each with its number in the margin and two words to decide it; what somebody kept with a word. */
export function AreaMarks({ density }: { readonly density: number }) {
  const pockets = useBench((state) => state.checked?.pockets);
  const open = useBench((state) => state.open.find(({ kind }) => kind === 'pocket')?.places);
  const here = useBench(({ at }) => (at?.kind === 'pocket' && !at.done ? at.index : -1));
  if (!pockets) return null;
  const places = open ?? [];
  const asked = pockets.filter((area) => places.includes(area)).slice(0, NUMBERED);
  const isTold = ({ why }: PocketPlace) => why === 'told' || why === null;
  const kept = pockets.filter((area) => !area.goes && area.sure && isTold(area)).slice(0, NUMBERED);
  const hasWords = asked.length <= WORDED;
  return (
    <>
      <Dots areas={asked} density={density} />
      {kept.map((area) => (
        <Tag key={keyOf(area)} area={area} density={density} number={null} hasWords={false} />
      ))}
      {asked.map((area) => {
        const index = places.indexOf(area);
        return (
          <Tag
            key={keyOf(area)}
            area={area}
            density={density}
            number={index + 1}
            hasWords={hasWords || index === here}
          />
        );
      })}
    </>
  );
}

function keyOf({ at: { x, y } }: PocketPlace): string {
  return `${x},${y}`;
}

/** Screen radius of a dot, in CSS pixels. */
const DOT = 1.7;

function Dots({ areas, density }: { readonly areas: readonly PocketPlace[]; readonly density: number }) {
  const view = useBench((state) => state.view);
  const onScreen = (at: number, start: number) => ((at + 0.5) * view.scale + start) / density;
  return (
    <svg className={classes.strokes} aria-hidden="true">
      {areas.flatMap(({ dots }) =>
        dots.map(([x, y]) => (
          <circle
            key={`${x},${y}`}
            className={classes.undecided}
            cx={onScreen(x, view.left)}
            cy={onScreen(y, view.top)}
            r={DOT}
          />
        )),
      )}
    </svg>
  );
}

interface TagProps {
  readonly area: PocketPlace;
  readonly density: number;
  /** Its number in the margin; null for one that is decided. */
  readonly number: number | null;
  readonly hasWords: boolean;
}

function Tag({ area, density, number, hasWords }: TagProps) {
  const view = useBench((state) => state.view);
  const actions = useBenchActions();
  const onScreen = (at: number, start: number) => (at * view.scale + start) / density;
  const hasRoom =
    (area.width * view.scale) / density > ROOM.width && (area.height * view.scale) / density > ROOM.height;
  const style = hasRoom
    ? { left: onScreen(area.at.x + 0.5, view.left), top: onScreen(area.at.y + 0.5, view.top) }
    : {
        left: onScreen(area.x + area.width / 2, view.left),
        top: onScreen(area.y, view.top) - TAG_APART,
      };
  const word = (keep: boolean) => (
    <UnstyledButton
      aria-label={`${keep ? 'Keep' : 'Clear'} area ${number}`}
      aria-pressed={area.goes !== keep}
      onClick={() => actions.decideArea(area, keep)}
    >
      {keep ? 'keep' : 'clear'}
    </UnstyledButton>
  );
  return (
    <div
      className={classes.areaTag}
      data-at={hasRoom ? 'middle' : 'above'}
      data-kept={number === null || undefined}
      style={style}
      aria-hidden={number === null || undefined}
    >
      <span>{number ?? 'kept'}</span>
      {hasWords && number !== null && word(true)}
      {hasWords && number !== null && word(false)}
    </div>
  );
}
