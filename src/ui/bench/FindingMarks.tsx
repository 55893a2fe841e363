import { placeAt } from '../../bench/findings-actions';
import { useShallow } from 'zustand/react/shallow';
import type { Place } from '../../core/findings/finding';
import { useBench } from './bench-context';
import classes from './bench.module.css';

/** Other places of the same kind that are outlined at a time. */
const MOST_OTHERS = 60;

/** Room between a place and its outline, in CSS pixels. */
const ROOM = 5;

/** Outlines of the place that is looked at and of others of its kind. `shift` is where the result begins, in CSS pixels. */
export function FindingMarks({ density, shift }: { readonly density: number; readonly shift: number }) {
  const found = useBench(
    useShallow((state) => ({ place: placeAt(state)?.place ?? null, index: state.at?.index ?? -1 })),
  );
  const places = useBench(({ open, at }) => open.find(({ kind }) => kind === at?.kind)?.places);
  if (!found.place || !places) return null;
  return (
    <svg className={classes.strokes} style={{ left: shift, right: 0 }} aria-hidden="true">
      {places
        .slice(0, MOST_OTHERS)
        .map((place, index) =>
          index === found.index ? null : <Outline key={index} place={place} density={density} />,
        )}
      <Outline place={found.place} density={density} here />
    </svg>
  );
}

interface OutlineProps {
  readonly place: Place;
  readonly density: number;
  readonly here?: boolean;
}

function Outline({ place, density, here = false }: OutlineProps) {
  const view = useBench((state) => state.view);
  const room = here ? ROOM : 2;
  const at = (value: number, start: number) => (value * view.scale + start) / density;
  const box = {
    x: at(place.x, view.left) - room,
    y: at(place.y, view.top) - room,
    width: (place.width * view.scale) / density + 2 * room,
    height: (place.height * view.scale) / density + 2 * room,
    rx: 3,
    fill: 'none',
  };
  return (
    <>
      <rect {...box} stroke="#ffffff" strokeWidth={here ? 5 : 3} />
      <rect
        {...box}
        className={here ? classes.outlineHere : undefined}
        stroke="#1c1c1c"
        strokeWidth={here ? 2 : 1}
      />
    </>
  );
}
