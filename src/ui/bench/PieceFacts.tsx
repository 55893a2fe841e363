import { IconInfoCircle } from '@tabler/icons-react';
import { formatBytes, formatMm, formatShare } from '../format';
import { api } from '../../bench/api';
import { useBench } from './bench-context';
import classes from './bench.module.css';
import { Findings } from './Findings';

/** The margin on the left: what the piece is, and what the cut made of it. */
export function PieceFacts() {
  const piece = useBench((state) => state.piece);
  const alpha = useBench((state) => state.alpha);
  const stale = useBench((state) => state.progress !== null || state.resting);
  const output = useBench((state) => state.output);
  // Of the cut that was measured last, which may be of another size than what is shown meanwhile.
  const pixels = alpha ? alpha.transparent + alpha.partly + alpha.opaque : 1;
  return (
    <aside className={classes.margin} aria-label="Piece">
      <Findings />
      <h2>Original</h2>
      <dl>
        <Fact name="Size" value={`${piece.width} x ${piece.height} px`} />
        {piece.dpi && (
          <Fact
            name="Print"
            value={`${formatMm(piece.width, piece.dpi)} x ${formatMm(piece.height, piece.dpi)}`}
          />
        )}
        {piece.dpi && <Fact name="Resolution" value={`${piece.dpi} dpi`} />}
        <Fact name="File" value={`${piece.format.toUpperCase()}, ${formatBytes(piece.bytes)}`} />
      </dl>
      {piece.notes.map((note) => (
        <p key={note} className={classes.pictureNote}>
          <IconInfoCircle size={14} stroke={1.8} aria-hidden="true" />
          {note}
        </p>
      ))}
      <a className={classes.plainLink} href={api.originalAddress(piece.id)}>
        Download the original
      </a>
      <h2>Result</h2>
      {alpha ? (
        <dl data-stale={stale || undefined}>
          <Fact name="Size" value={`${output.width} x ${output.height} px`} />
          {piece.dpi && (
            <Fact
              name="Print"
              value={`${formatMm(output.width, piece.dpi)} x ${formatMm(output.height, piece.dpi)}`}
            />
          )}
          <Fact name="Transparent" value={formatShare(alpha.transparent / pixels)} />
          <Fact name="Partly" value={formatShare(alpha.partly / pixels)} />
          <Fact name="Opaque" value={formatShare(alpha.opaque / pixels)} />
        </dl>
      ) : (
        <p className={classes.soft}>measured at full size in a moment</p>
      )}
    </aside>
  );
}

function Fact({ name, value }: { readonly name: string; readonly value: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{value}</dd>
    </div>
  );
}
