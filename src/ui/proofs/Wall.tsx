import type { CSSProperties } from 'react';
import type { Ground } from '../../core/proof/settings';
import { GroundPicture } from './GroundPicture';
import { usePictures, useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { sizeWords } from './units';

/** How high a print on the wall is at most, and how wide, in pixels of the screen. */
const PRINT = { width: 420, height: 210 };

/** All grounds of a proof like prints on a board; each opens. */
export function Wall() {
  const grounds = useProof(({ proof }) => proof.grounds);
  return (
    <section className={classes.board} aria-label="Grounds">
      {grounds.length === 0 ? (
        <p className={classes.hint}>
          A proof shows a piece where it will live: on a letter, a photo, a slide, a site. Add a ground on the
          right, or drop a PDF there.
        </p>
      ) : (
        <ul className={classes.wall}>
          {grounds.map((ground) => (
            <Print key={ground.id} ground={ground} />
          ))}
        </ul>
      )}
    </section>
  );
}

function Print({ ground }: { readonly ground: Ground }) {
  const facts = useProof(({ grounds }) => grounds[ground.id]);
  const pictureOf = usePictures();
  const actions = useProofActions();
  const known = facts && !('trouble' in facts) ? facts : null;
  const aspect = known ? known.width / known.height : 1.5;
  const size: CSSProperties = { width: `min(100%, ${Math.round(PRINT.height * aspect)}px)` };
  const name = known?.name ?? 'A ground';
  return (
    <li className={classes.print}>
      <button type="button" className={classes.printButton} onClick={() => actions.open(ground.id)}>
        <span className={classes.printPicture}>
          <span style={size}>
            <GroundPicture
              ground={ground}
              facts={facts}
              width={2 * Math.max(1, Math.min(PRINT.width, Math.round(PRINT.height * aspect)))}
              pictureOf={pictureOf}
            />
          </span>
        </span>
        <span className={classes.printName} title={name}>
          {name}
        </span>
        <span className={classes.soft}>{known ? sizeWords(known) : ''}</span>
      </button>
    </li>
  );
}
