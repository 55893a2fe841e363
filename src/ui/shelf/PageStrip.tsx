import { Button } from '@mantine/core';
import { useState } from 'react';
import type { PageChoiceFacts } from '../../bench/upload';
import { NumberField } from '../bench/NumberField';
import classes from './shelf.module.css';

interface Props {
  readonly name: string;
  readonly choice: PageChoiceFacts;
  readonly onChoose: (pages: readonly number[], dpi: number | null) => void;
}

const DPI = { min: 1, max: 4800 } as const;

/** Small pictures of a file's pages, to choose one, some or all; and how fine pages without pixels are read. */
export function PageStrip({ name, choice, onChoose }: Props) {
  const { shown, pages, drawn } = choice;
  const [chosen, setChosen] = useState<readonly number[]>([1]);
  const [dpi, setDpi] = useState<number | null>(null);
  const turn = (number: number) =>
    setChosen(
      chosen.includes(number)
        ? chosen.filter((one) => one !== number)
        : [...chosen, number].sort((a, b) => a - b),
    );
  const all = Array.from({ length: pages }, (_, k) => k + 1);
  return (
    <div className={classes.pageChoice}>
      <span>
        <strong>{name}</strong>{' '}
        {pages > 1 ? `holds ${pages} pictures. Choose those that become pieces.` : wordsOfDrawing(drawn)}
      </span>
      {pages > 1 && (
        <div className={classes.pageStrip} role="group" aria-label={`Pages of ${name}`}>
          {shown.map(({ number, width, height, picture }) => (
            <button
              key={number}
              type="button"
              role="checkbox"
              aria-checked={chosen.includes(number)}
              aria-label={`Page ${number}, ${width} x ${height} px`}
              className={classes.page}
              onClick={() => turn(number)}
            >
              <span className={classes.pagePicture}>
                {picture ? (
                  // A small picture out of the answer itself: nothing that an image service could make better.
                  // oxlint-disable-next-line nextjs/no-img-element
                  <img src={`data:image/webp;base64,${picture}`} alt="" />
                ) : (
                  <span className={classes.hint}>cannot be shown</span>
                )}
              </span>
              <span className={classes.pageNumber}>{number}</span>
            </button>
          ))}
          {pages > shown.length && (
            <span className={classes.hint}>and {pages - shown.length} more, with All</span>
          )}
        </div>
      )}
      <div className={classes.pageFields}>
        {drawn && <Fineness drawn={drawn} dpi={dpi} onChange={setDpi} />}
        {pages > 1 && (
          <Button size="xs" variant="default" onClick={() => setChosen(chosen.length === pages ? [] : all)}>
            {chosen.length === pages ? 'None' : 'All'}
          </Button>
        )}
        <Button size="xs" disabled={chosen.length === 0} onClick={() => onChoose(chosen, dpi)}>
          {chosen.length === 1 ? 'Bring it in' : `Bring in ${chosen.length}`}
        </Button>
      </div>
    </div>
  );
}

function wordsOfDrawing(drawn: PageChoiceFacts['drawn']): string {
  return drawn?.scanWidthPx
    ? 'is a scanned page. It is read at its own resolution unless you say otherwise.'
    : 'is drawn without pixels. Say how large it is to be read.';
}

/** How fine a drawing is read: as pixels of width, or per inch; the one follows the other. */
function Fineness({
  drawn,
  dpi,
  onChange,
}: {
  readonly drawn: NonNullable<PageChoiceFacts['drawn']>;
  readonly dpi: number | null;
  readonly onChange: (dpi: number | null) => void;
}) {
  const { widthIn, aspect, scanWidthPx, proposedWidthPx } = drawn;
  const width = dpi === null ? proposedWidthPx : Math.round(widthIn * dpi);
  return (
    <>
      <NumberField
        label="Width"
        suffix=" px"
        value={width}
        min={1}
        max={32_000}
        decimalScale={0}
        onCommit={(px) => onChange(px === proposedWidthPx ? null : px / widthIn)}
      />
      <NumberField
        label="Resolution"
        suffix=" dpi"
        value={Math.round(width / widthIn)}
        min={DPI.min}
        max={DPI.max}
        decimalScale={0}
        onCommit={(typed) => {
          if (typed !== Math.round(width / widthIn)) onChange(typed);
        }}
      />
      <span className={classes.hint}>
        {width} x {Math.max(1, Math.round(width * aspect))} px
        {scanWidthPx !== null && dpi === null ? ', as it was scanned' : ''}
      </span>
    </>
  );
}
