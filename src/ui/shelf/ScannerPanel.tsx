'use client';

import { Button, Progress, SegmentedControl, Select } from '@mantine/core';
import Link from 'next/link';
import { useEffect, useRef, useState } from 'react';
import { api, type ScannerFacts } from '../../bench/api';
import { scan, type ScanState, type ScanWish } from '../../bench/scan';
import classes from './shelf.module.css';

/** The scanner stand-in: what lies on the glass, how it is scanned, and how far it is. */
export function ScannerPanel({
  onArrived,
  onClose,
}: {
  readonly onArrived: () => void;
  readonly onClose: () => void;
}) {
  const [scanner, setScanner] = useState<ScannerFacts | null>(null);
  const [wish, setWish] = useState<ScanWish>({
    sheet: 'signature',
    mode: 'color',
    dpi: 300,
    lid: 'closed',
    format: 'png',
  });
  const [state, setState] = useState<ScanState>({ kind: 'idle' });
  const abort = useRef<AbortController>(null);
  useEffect(() => {
    void api
      .scanner()
      .then(setScanner, (error: Error) => setState({ kind: 'refused', message: error.message }));
    return () => abort.current?.abort();
  }, []);
  const busy = state.kind === 'busy';
  const change = (what: Partial<ScanWish>) => setWish((before) => ({ ...before, ...what }));
  const start = async () => {
    abort.current = new AbortController();
    setState({ kind: 'busy', words: 'Warming up', percent: 0, cancellable: true });
    await scan(wish, abort.current.signal, (next) => {
      setState(next);
      if (next.kind === 'done') onArrived();
    });
  };
  const lies = scanner?.sheets.find(({ id }) => id === wish.sheet);
  return (
    <section className={classes.scanner} aria-label="Scanner">
      <div className={classes.scannerFields}>
        <Select
          label="On the glass"
          size="xs"
          value={wish.sheet}
          allowDeselect={false}
          disabled={busy}
          data={(scanner?.sheets ?? []).map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(sheet) => sheet && change({ sheet })}
        />
        <Choice
          label="Read"
          value={wish.mode}
          disabled={busy}
          onChange={(mode) => change({ mode })}
          data={[
            ['color', 'Color'],
            ['gray', 'Gray'],
          ]}
        />
        <Choice
          label="Resolution"
          value={String(wish.dpi) as '150' | '300' | '600'}
          disabled={busy}
          onChange={(dpi) => change({ dpi: Number(dpi) as ScanWish['dpi'] })}
          data={[
            ['150', '150 dpi'],
            ['300', '300 dpi'],
            ['600', '600 dpi'],
          ]}
        />
        <Choice
          label="Lid"
          value={wish.lid}
          disabled={busy}
          onChange={(lid) => change({ lid })}
          data={[
            ['closed', 'Closed'],
            ['open', 'Open'],
          ]}
        />
        <Choice
          label="File"
          value={wish.format}
          disabled={busy}
          onChange={(format) => change({ format })}
          data={[
            ['png', 'PNG'],
            ['tiff', 'TIFF'],
          ]}
        />
        <div className={classes.scannerButtons}>
          <Button size="xs" disabled={busy || !scanner} onClick={() => void start()}>
            Scan
          </Button>
          <Button
            size="xs"
            variant="default"
            disabled={busy && !state.cancellable}
            onClick={busy ? () => abort.current?.abort() : onClose}
          >
            {busy ? 'Cancel' : 'Put away'}
          </Button>
        </div>
      </div>
      <p className={classes.scannerNote} aria-live="polite">
        {state.kind === 'idle' &&
          `${scanner?.name ?? 'Scanner'}: a stand-in for a device${lies ? `. The sheet is ${lies.widthMm.toFixed(0)} x ${lies.heightMm.toFixed(0)} mm` : ''}.`}
        {state.kind === 'busy' && state.words}
        {state.kind === 'refused' && state.message}
        {state.kind === 'done' && (
          <>
            <Link href={`/bench/${state.piece.id}`}>{state.piece.name}</Link> is on the Shelf.
          </>
        )}
      </p>
      {busy && <Progress value={state.percent} size="sm" aria-label="How far the scan is" />}
    </section>
  );
}

interface ChoiceProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly disabled: boolean;
  readonly data: readonly (readonly [T, string])[];
  readonly onChange: (value: T) => void;
}

function Choice<T extends string>({ label, value, disabled, data, onChange }: ChoiceProps<T>) {
  return (
    <div>
      <span className={classes.scannerLabel}>{label}</span>
      <SegmentedControl
        size="xs"
        aria-label={label}
        value={value}
        disabled={disabled}
        onChange={onChange}
        data={data.map(([key, text]) => ({ value: key, label: text }))}
      />
    </div>
  );
}
