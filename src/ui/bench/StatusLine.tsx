import { UnstyledButton } from '@mantine/core';
import { formatMm, formatNumber } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const two = (value: number) => value.toString(16).padStart(2, '0');

/** One quiet line: where the pointer is, what is under it, and at which size the sheet was computed. */
export function StatusLine() {
  const pointer = useBench((state) => state.pointer);
  const piece = useBench((state) => state.piece);
  const probe = pointer?.probe ?? null;
  return (
    <footer className={classes.status} data-read={pointer?.isRead ? `${pointer.x},${pointer.y}` : undefined}>
      {pointer ? (
        <>
          <span className={classes.statusPlace}>
            {pointer.x}, {pointer.y} px
            {piece.dpi && ` · ${formatMm(pointer.x, piece.dpi)}, ${formatMm(pointer.y, piece.dpi)}`}
          </span>
          {probe && (
            <>
              <span>
                original #{two(probe.original[0])}
                {two(probe.original[1])}
                {two(probe.original[2])}
              </span>
              <span>
                alpha {probe.result[3]} ({formatNumber((probe.result[3] / 255) * 100, 0)} %)
              </span>
            </>
          )}
        </>
      ) : (
        <PlaceNote />
      )}
      <span className={classes.space} />
      <SizeNote />
    </footer>
  );
}

/** What a place beside the picture is good for. */
function PlaceNote() {
  const isBeside = useBench(({ over }) => over !== null);
  const tool = useBench((state) => (state.stage === 'touchUp' ? state.hand.tool : null));
  if (!isBeside || tool === null) return <span>Point at the sheet to read its pixels</span>;
  if (tool === 'piece' || tool === 'gap')
    return <span>Beside the picture: nothing is here to be picked</span>;
  return <span>Beside the picture: a stroke may begin here and go in</span>;
}

const SHOWN_WORDS = {
  result: '',
  alpha: 'alpha alone, ',
  faint: 'alpha with faint parts raised, ',
  edge: 'edge alone, ',
  difference: 'what was taken, ',
} as const;

function SizeNote() {
  const exact = useBench((state) => state.exact);
  const progress = useBench((state) => state.progress);
  const resting = useBench((state) => state.resting);
  const look = useBench((state) => state.look);
  const shown = useBench((state) => state.shown);
  const actions = useBenchActions();
  const prepares = useBench((state) => state.stage === 'prepare');
  if (look === 'original') return <span>original</span>;
  if (resting) return <span>view size; full size was cancelled until the next change</span>;
  const size = `${SHOWN_WORDS[shown]}${exact ? 'full size' : 'view size'}`;
  if (prepares && !progress) return <span data-size="full">prepared, not yet cleared</span>;
  if (!progress) return <span data-size={exact ? 'full' : 'view'}>{size}</span>;
  const percent = Math.round((100 * progress.done) / progress.total);
  return (
    <>
      <span data-size={exact ? 'full' : 'view'}>
        {size}, {progress.doing} all pixels {percent} %
      </span>
      <UnstyledButton className={classes.statusButton} onClick={actions.stopFullSize}>
        Cancel
      </UnstyledButton>
    </>
  );
}
