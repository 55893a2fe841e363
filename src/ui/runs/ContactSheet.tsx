'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useElementSize, useMergedRef } from '@mantine/hooks';
import Link from 'next/link';
import { useRef, useState } from 'react';
import type { RunItemFacts } from '../../bench/runs-api';
import { BACKINGS } from '../../core/view/backing';
import { backingStyle } from '../backing-style';
import { afterOf } from './RunTable';
import classes from './runs.module.css';

const CELL_PX = 168;
const LINE_PX = 172;

/** All results of a run on one backing, like prints from one roll. */
export function ContactSheet({ items }: { readonly items: readonly RunItemFacts[] }) {
  const [backing, setBacking] = useState('checker');
  const results = items.filter((item) => afterOf(item) !== null);
  const scroller = useRef<HTMLDivElement>(null);
  const { ref, width } = useElementSize();
  const across = Math.max(1, Math.floor(width / CELL_PX));
  // oxlint-disable-next-line react/incompatible-library -- what it returns is used here alone
  const virtual = useVirtualizer({
    count: Math.ceil(results.length / across),
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PX,
    overscan: 3,
  });
  const merged = useMergedRef(ref, scroller);
  return (
    <>
      <div className={classes.backings} role="radiogroup" aria-label="Backing">
        {BACKINGS.map(({ value, name }) => (
          <button
            key={value}
            type="button"
            role="radio"
            aria-checked={backing === value}
            aria-label={name}
            title={name}
            className={classes.backing}
            style={backingStyle(value, 4)}
            onClick={() => setBacking(value)}
          />
        ))}
      </div>
      <div ref={merged} className={classes.sheet} aria-label="Contact sheet" role="list" tabIndex={0}>
        <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {virtual.getVirtualItems().map(({ index, key, start }) => (
            <div key={key} className={classes.sheetLine} style={{ transform: `translateY(${start}px)` }}>
              {results.slice(index * across, (index + 1) * across).map((item) => (
                <Link
                  key={item.id}
                  role="listitem"
                  href={`/bench/${item.pieceId}`}
                  className={classes.print}
                  style={{ width: `${100 / across}%` }}
                >
                  <span style={backingStyle(backing, 8)}>
                    {/* oxlint-disable-next-line nextjs/no-img-element -- already small, made by this server */}
                    <img src={afterOf(item)!} alt="" loading="lazy" />
                  </span>
                  <span className={classes.printName}>{item.name}</span>
                </Link>
              ))}
            </div>
          ))}
        </div>
      </div>
    </>
  );
}
