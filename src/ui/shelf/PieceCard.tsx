import { Checkbox, Tooltip } from '@mantine/core';
import {
  IconAlertTriangle,
  IconCheck,
  IconCircleCheck,
  IconCircleDashed,
  IconCut,
  IconInfoCircle,
} from '@tabler/icons-react';
import Link from 'next/link';
import { memo, useState } from 'react';
import { api, type ShelfPieceFacts } from '../../bench/api';
import { countOf } from '../../core/findings/counts';
import { backingStyle } from '../backing-style';
import { CardDeliveries } from './CardDeliveries';
import { CardMenu } from './CardMenu';
import { CardName } from './CardName';
import classes from './shelf.module.css';

const STATES = {
  untouched: { icon: IconCircleDashed, word: 'untouched' },
  cut: { icon: IconCut, word: 'cut' },
  delivered: { icon: IconCheck, word: 'delivered' },
} as const;

interface Props {
  readonly piece: ShelfPieceFacts;
  readonly selected: boolean;
  readonly onSelect: (id: string, range: boolean) => void;
  readonly onDiscard: (ids: readonly string[]) => Promise<void>;
  readonly onChanged: () => void;
}

/** One piece on its backing, with what can be done with it. */
export const PieceCard = memo(function PieceCard({ piece, selected, onSelect, onDiscard, onChanged }: Props) {
  const { icon: Icon, word } = STATES[piece.state];
  const [doing, setDoing] = useState<'nothing' | 'renaming' | 'deliveries'>('nothing');
  return (
    <li className={classes.card} data-selected={selected || undefined}>
      <div className={classes.link}>
        <Link
          href={`/bench/${piece.id}`}
          className={classes.picture}
          prefetch={false}
          style={backingStyle(piece.backing, 8)}
          tabIndex={-1}
          aria-hidden="true"
        >
          {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
          <img src={api.thumbnailAddress(piece)} alt="" loading="lazy" />
        </Link>
        <span className={classes.nameLine}>
          <CardName
            piece={piece}
            renaming={doing === 'renaming'}
            onDone={(changed) => {
              setDoing('nothing');
              if (changed) onChanged();
            }}
          />
          {doing !== 'renaming' && <FindingCount piece={piece} />}
        </span>
        <span className={classes.facts}>
          <span>
            {piece.width} x {piece.height} px
          </span>
          {piece.notes.length > 0 && (
            <Tooltip
              label={piece.notes.join(' ')}
              multiline
              w={280}
              events={{ hover: true, focus: true, touch: true }}
            >
              <span
                className={classes.state}
                data-state="noted"
                tabIndex={0}
                aria-label={`Note: ${piece.notes.join(' ')}`}
              >
                <IconInfoCircle size={14} stroke={1.8} aria-hidden="true" />
              </span>
            </Tooltip>
          )}
          <span className={classes.state} data-state={piece.state}>
            <Icon size={14} stroke={1.8} aria-hidden="true" />
            {word}
          </span>
        </span>
        {doing === 'deliveries' && <CardDeliveries id={piece.id} onClose={() => setDoing('nothing')} />}
      </div>
      <Checkbox
        size="xs"
        className={classes.pick}
        aria-label={`Select ${piece.name}`}
        checked={selected}
        onChange={({ nativeEvent }) =>
          onSelect(piece.id, nativeEvent instanceof PointerEvent && nativeEvent.shiftKey)
        }
        onClick={(event) => event.stopPropagation()}
      />
      <CardMenu
        piece={piece}
        onRename={() => setDoing('renaming')}
        onDeliveries={() => setDoing('deliveries')}
        onDiscard={() => void onDiscard([piece.id])}
      />
    </li>
  );
});

/** What the checks found in the cut in force. */
function FindingCount({ piece: { findings, state } }: { readonly piece: ShelfPieceFacts }) {
  if (findings === null) return <span className={classes.unchecked}>not checked</span>;
  const count = countOf(findings);
  if (count === 0)
    return state === 'untouched' ? null : (
      <span className={classes.state} data-state="clean">
        <IconCircleCheck size={14} stroke={1.8} aria-hidden="true" />
        clean
      </span>
    );
  return (
    <span className={classes.state} data-state="findings">
      <IconAlertTriangle size={14} stroke={1.8} aria-hidden="true" />
      {count === 1 ? '1 finding' : `${count} findings`}
    </span>
  );
}
