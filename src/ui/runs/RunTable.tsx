'use client';

import {
  IconAlertTriangle,
  IconCheck,
  IconChevronDown,
  IconClock,
  IconEye,
  IconLoader2,
  IconX,
} from '@tabler/icons-react';
import { useVirtualizer } from '@tanstack/react-virtual';
import Link from 'next/link';
import { useMemo, useRef, useState } from 'react';
import { deliveryPicture, needsLook, runsApi, type ItemState, type RunItemFacts } from '../../bench/runs-api';
import { backingStyle } from '../backing-style';
import { groupsOf, rowsOf, type RunGroup, type RunRow } from './run-groups';
import { ITEM_WORDS, itemNote, tookWords } from './run-words';
import classes from './runs.module.css';

const ROW_PX = 68;
const TITLE_PX = 36;

/** Rows that are drawn beyond what is seen. */
const BEYOND = 8;

/** The pictures of a run, before and after; only the rows that are seen are there. */
export function RunTable({
  runId,
  items,
}: {
  readonly runId: number;
  readonly items: readonly RunItemFacts[];
}) {
  const groups = useMemo(() => groupsOf(items), [items]);
  const [toggled, setToggled] = useState<ReadonlySet<RunGroup['key']>>(new Set());
  // What is done is folded away while something else needs somebody.
  const needsSomebody = groups.some(({ key }) => key === 'look' || key === 'failed');
  const folded = useMemo(() => {
    const keys = new Set<RunGroup['key']>(needsSomebody ? ['rest'] : []);
    for (const key of toggled) if (!keys.delete(key)) keys.add(key);
    return keys;
  }, [needsSomebody, toggled]);
  const rows = useMemo(() => rowsOf(groups, folded), [groups, folded]);
  const scroller = useRef<HTMLDivElement>(null);
  // oxlint-disable-next-line react/incompatible-library -- what it returns is used here alone
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (k) => (rows[k]!.kind === 'title' ? TITLE_PX : ROW_PX),
    getItemKey: (k) => keyOf(rows[k]!),
    overscan: BEYOND,
  });
  const toggle = (key: RunGroup['key']) =>
    setToggled((before) => {
      const after = new Set(before);
      if (!after.delete(key)) after.add(key);
      return after;
    });
  return (
    <div
      ref={scroller}
      className={classes.table}
      role="table"
      aria-label="Pictures"
      aria-rowcount={rows.length}
      tabIndex={0}
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }} role="rowgroup">
        {virtual.getVirtualItems().map(({ index, key, start, size }) => {
          const row = rows[index]!;
          return (
            <div
              key={key}
              role="row"
              aria-rowindex={index + 1}
              className={row.kind === 'title' ? classes.groupRow : classes.row}
              style={{ height: size, transform: `translateY(${start}px)` }}
            >
              {row.kind === 'title' ? (
                <span role="cell">
                  <button
                    type="button"
                    className={classes.groupTitle}
                    aria-expanded={!row.folded}
                    onClick={() => toggle(row.group.key)}
                  >
                    <IconChevronDown size={14} stroke={1.8} aria-hidden="true" />
                    {row.group.title}
                  </button>
                </span>
              ) : (
                <Cells runId={runId} item={row.item} />
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function keyOf(row: RunRow): string | number {
  return row.kind === 'title' ? row.group.key : row.item.id;
}

const ICONS: Readonly<Record<ItemState, typeof IconCheck>> = {
  waiting: IconClock,
  working: IconLoader2,
  delivered: IconCheck,
  laid: IconCheck,
  held: IconEye,
  skipped: IconX,
  failed: IconAlertTriangle,
  cancelled: IconX,
};

function Cells({ runId, item }: { readonly runId: number; readonly item: RunItemFacts }) {
  const { name, pieceId, state, number, ms } = item;
  const Icon = ICONS[state];
  const isDoubtful = state === 'delivered' && needsLook(item);
  return (
    <>
      <span role="cell" className={classes.pictures}>
        <Small address={pieceId && runsApi.beforeAddress(pieceId)} label="before" />
        <Small address={afterOf(item)} label="after" />
      </span>
      <span role="cell" className={classes.rowName}>
        {pieceId === null ? (
          name
        ) : (
          <Link href={state === 'held' ? `/bench/${pieceId}?run=${runId}&at=${number}` : `/bench/${pieceId}`}>
            {name}
          </Link>
        )}
      </span>
      <span role="cell" className={classes.rowState} data-state={isDoubtful ? 'held' : state}>
        <Icon size={15} stroke={1.8} aria-hidden="true" />
        {isDoubtful ? 'delivered, not sure' : ITEM_WORDS[state]}
      </span>
      <span role="cell" className={classes.rowNote} title={itemNote(item)}>
        {itemNote(item)}
      </span>
      <span role="cell" className={classes.rowTime}>
        {tookWords(ms)}
      </span>
    </>
  );
}

/** Where the result of a picture is in small; null where there is none. */
export function afterOf({
  pieceId,
  revision,
  deliveries,
}: Pick<RunItemFacts, 'pieceId' | 'revision' | 'deliveries'>): string | null {
  if (pieceId !== null && revision !== null) return runsApi.afterAddress(pieceId, revision);
  // A photo that was marked has no revision of its own: its file is shown.
  const [first] = deliveries;
  return first === undefined ? null : deliveryPicture(first);
}

function Small({ address, label }: { readonly address: string | null; readonly label: string }) {
  return (
    <span
      className={classes.small}
      style={backingStyle('checker', 6)}
      data-empty={address === null || undefined}
    >
      {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
      {address !== null && <img src={address} alt={label} loading="lazy" />}
    </span>
  );
}
