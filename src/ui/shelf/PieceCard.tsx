import { IconCheck, IconCircleDashed, IconCut } from '@tabler/icons-react';
import Link from 'next/link';
import { api, type ShelfPieceFacts } from '../../bench/api';
import { backingStyle } from '../backing-style';
import classes from './shelf.module.css';

const STATES = {
  untouched: { icon: IconCircleDashed, word: 'untouched' },
  cut: { icon: IconCut, word: 'cut' },
  delivered: { icon: IconCheck, word: 'delivered' },
} as const;

/** One piece on its backing. */
export function PieceCard({ piece }: { readonly piece: ShelfPieceFacts }) {
  const { icon: Icon, word } = STATES[piece.state];
  return (
    <li className={classes.card}>
      <Link href={`/bench/${piece.id}`} className={classes.link} prefetch={false}>
        <span className={classes.picture} style={backingStyle(piece.backing, 8)}>
          {/* eslint-disable-next-line @next/next/no-img-element -- already small, made by this server */}
          <img src={api.thumbnailAddress(piece.id, piece.revision)} alt="" loading="lazy" />
        </span>
        <span className={classes.name} title={piece.name}>
          {piece.name}
        </span>
        <span className={classes.facts}>
          <span>
            {piece.width} x {piece.height} px
          </span>
          <span className={classes.state} data-state={piece.state}>
            <Icon size={14} stroke={1.8} aria-hidden="true" />
            {word}
          </span>
        </span>
      </Link>
    </li>
  );
}
