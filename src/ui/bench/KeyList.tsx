import { CloseButton, FocusTrap } from '@mantine/core';
import { KEYS, SHEET_KEYS } from '../../bench/keys';
import classes from './bench.module.css';

/** All keys, beside the picture and not over it. */
export function KeyList({ onClose }: { readonly onClose: () => void }) {
  return (
    <FocusTrap>
      <section
        className={classes.keys}
        aria-label="Keys"
        onKeyDown={(event) => {
          if (event.key === 'Escape') onClose();
        }}
      >
        <header>
          <h2>Keys</h2>
          <CloseButton aria-label="Close the key list" onClick={onClose} size="sm" />
        </header>
        <dl>
          {[...KEYS.filter(({ shown }) => shown), ...SHEET_KEYS].map(({ shown, words }) => (
            <div key={shown + words}>
              <dt>{shown}</dt>
              <dd>{words}</dd>
            </div>
          ))}
          <div>
            <dt>?</dt>
            <dd>open or close this list</dd>
          </div>
        </dl>
      </section>
    </FocusTrap>
  );
}
