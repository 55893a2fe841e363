import { ActionIcon, Button, Tooltip, UnstyledButton, VisuallyHidden } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import type { Mend } from '../../core/stages/touch-up/settings';
import { shownPixel } from '../../core/stages/prepare/shown';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { HandStrokes } from './HandStrokes';
import { HandTools } from './HandTools';

const WORDS: Readonly<Record<Mend['mend'], string>> = {
  speck: 'speck cleared',
  pinhole: 'pinhole closed',
  residue: 'residue cleared',
  halo: 'rim cleaned',
};

/** Touch up by hand: what the pointer does, every stroke that was made, and what was mended. */
export function TouchUpSettings() {
  const on = useBench((state) => state.cut.touchUp.on);
  return (
    <>
      <HandTools />
      {!on && (
        <p className={classes.note} role="status">
          Touch up is switched off: what is listed does not act. The next stroke switches it on.
        </p>
      )}
      <HandStrokes />
      <Mends />
    </>
  );
}

/** What was put right at single places; each can be taken back by itself. */
function Mends() {
  const mends = useBench((state) => state.cut.touchUp.mends);
  const actions = useBenchActions();
  if (mends.length === 0)
    return <p className={classes.hint}>Nothing is mended. Fixes of findings are listed here.</p>;
  return (
    <>
      <h2>{mends.length === 1 ? '1 place mended' : `${mends.length} places mended`}</h2>
      <ol className={classes.mends} aria-label="Mended places">
        {mends.map((mend, index) => (
          <MendRow key={`${mend.mend},${mend.x},${mend.y},${index}`} mend={mend} index={index} />
        ))}
      </ol>
      <Button size="xs" variant="default" onClick={actions.deleteMends}>
        Take all back
      </Button>
    </>
  );
}

function MendRow({ mend, index }: { readonly mend: Mend; readonly index: number }) {
  const frame = useBench((state) => state.frame);
  const actions = useBenchActions();
  const show = () => {
    const { x, y } = shownPixel(frame, mend.x, mend.y);
    const far = Math.min(mend.reachPx, 200);
    actions.flyTo({ x: x - far, y: y - far, width: 2 * far + 1, height: 2 * far + 1 });
  };
  return (
    <li>
      <UnstyledButton className={classes.pocketButton} onClick={show}>
        <VisuallyHidden>Show mend </VisuallyHidden>
        <span className={classes.sampleNumber}>{index + 1}</span>
        <span>{WORDS[mend.mend]}</span>
        <span className={classes.soft}>
          at {mend.x}, {mend.y}
        </span>
      </UnstyledButton>
      <Tooltip label="Take it back">
        <ActionIcon
          size={24}
          aria-label={`Take back mend ${index + 1}`}
          onClick={() => actions.deleteMend(index)}
        >
          <IconTrash size={15} stroke={1.6} />
        </ActionIcon>
      </Tooltip>
    </li>
  );
}
