import { useId } from 'react';
import { ANCHORS } from '../core/stages/deliver/output-settings';
import classes from './anchor-grid.module.css';

type Nine = (typeof ANCHORS)[number];

/** Nine places of a picture, as they lie on it, and one more where there is a line to lie on. */
export function AnchorGrid<A extends string = Nine>({
  label,
  value,
  line = null,
  onChange,
}: {
  readonly label: string;
  readonly value: Nine | A;
  /** The value of the line; null where there is none. */
  readonly line?: A | null;
  readonly onChange: (anchor: Nine | A) => void;
}) {
  const id = useId();
  return (
    <div>
      <span className={classes.label} id={id}>
        {label}
      </span>
      <div role="radiogroup" aria-labelledby={id} className={classes.anchors}>
        {line !== null && (
          <button
            type="button"
            role="radio"
            className={classes.anchorLine}
            aria-checked={value === line}
            onClick={() => onChange(line)}
          >
            on the line
          </button>
        )}
        {ANCHORS.map((anchor) => (
          <button
            key={anchor}
            type="button"
            role="radio"
            className={classes.anchor}
            aria-checked={anchor === value}
            aria-label={anchor.replace('-', ' ')}
            title={anchor.replace('-', ' ')}
            onClick={() => onChange(anchor)}
          />
        ))}
      </div>
    </div>
  );
}
