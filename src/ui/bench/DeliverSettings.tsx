import { OUTPUT_FORMATS } from '../../core/formats';
import { PRINT_DPI, PRINT_MM } from '../../core/stages/deliver/settings';
import { Button, Loader, Switch, TextInput } from '@mantine/core';
import { IconAlertTriangle, IconCircleCheck } from '@tabler/icons-react';
import { useState } from 'react';
import { deliveredDpi, dpiAt } from '../../core/stages/deliver/print';
import { checkFileName, proposedFileName } from '../../core/stages/deliver/file-name';
import type { DeliveryFacts } from '../../bench/api';
import { api } from '../../bench/api';
import { formatBytes, formatMoment, formatNumber, formatShare } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { titleOf } from './Findings';
import { NumberField } from './NumberField';

const FORMAT = OUTPUT_FORMATS.png;

/** Name and format of the file, the delivery itself, and those made before. */
export function DeliverSettings() {
  const delivering = useBench((state) => state.delivering);
  const deliveries = useBench((state) => state.deliveries);
  const actions = useBenchActions();
  const [nameError, setNameError] = useState<string | null>(null);
  const output = useBench((state) => state.output);
  const colorways = useBench((state) => state.cut.ink.colorways);
  const dpi = useBench((state) => deliveredDpi(state.cut, state.output.width, state.piece.dpi));
  const busy = delivering.kind === 'busy';
  return (
    <>
      <FileName onError={setNameError} />
      <PrintSize />
      <dl className={classes.facts}>
        <div>
          <dt>Format</dt>
          <dd>
            {FORMAT.name}, {FORMAT.words}
          </dd>
        </div>
        <div>
          <dt>Size</dt>
          <dd>
            {output.width} x {output.height} px{dpi ? `, ${formatNumber(dpi, 0)} dpi` : ''}
          </dd>
        </div>
        <div>
          <dt>Hidden color</dt>
          <dd>removed: nothing of the background stays in the file</dd>
        </div>
      </dl>
      <StillOpen />
      <div className={classes.row}>
        <Button size="xs" onClick={() => void actions.deliver()} disabled={busy || nameError !== null}>
          Deliver {FORMAT.name}
        </Button>
        {colorways.length > 0 && (
          <Button
            size="xs"
            variant="default"
            disabled={busy || nameError !== null}
            onClick={() => void actions.deliver(colorways.map(({ name }) => name))}
          >
            {colorways.length === 1 ? 'Deliver 1 colorway' : `Deliver ${colorways.length} colorways`}
          </Button>
        )}
        {busy && (
          <Button size="xs" variant="default" onClick={actions.cancelDelivery}>
            Cancel
          </Button>
        )}
      </div>
      <div aria-live="polite">
        {delivering.kind === 'busy' && (
          <p className={classes.row}>
            <Loader size={14} /> {delivering.step}
          </p>
        )}
        {delivering.kind === 'failed' && (
          <p className={classes.problem} role="alert">
            <IconAlertTriangle size={16} stroke={1.8} aria-hidden="true" />
            {delivering.message}
          </p>
        )}
        {delivering.kind === 'done' && <Report made={delivering.made} sameAsShown={delivering.sameAsShown} />}
      </div>
      {deliveries.length > 0 && <Deliveries deliveries={deliveries} />}
    </>
  );
}

/** What the checks found and nobody has decided yet; nothing is forbidden by it. */
function StillOpen() {
  const open = useBench((state) => state.open);
  const stale = useBench((state) => state.stale);
  const actions = useBenchActions();
  const told = open.filter(({ severity }) => severity !== 'note');
  if (stale) return <p className={classes.soft}>The checks are still reading this cut.</p>;
  if (told.length === 0) return null;
  return (
    <div className={classes.stillOpen}>
      <p>
        <IconAlertTriangle size={15} stroke={1.8} aria-hidden="true" />
        Still open: {told.map(titleOf).join(', ')}.
      </p>
      <Button size="compact-xs" variant="default" onClick={() => void actions.goToFinding(told[0]!.kind, 0)}>
        Show me
      </Button>
    </div>
  );
}

/** A width that starts a print size: what the pixels suffice for at 300 dpi. */
const FIRST_DPI = 300;

/** How wide it is to be printed, if at all. */
function PrintSize() {
  const print = useBench((state) => state.cut.deliver.print);
  const width = useBench((state) => state.output.width);
  const actions = useBenchActions();
  const first = Math.min(PRINT_MM.max, Math.max(PRINT_MM.min, Math.round(dpiAt(width, FIRST_DPI))));
  return (
    <div>
      <Switch
        label="Print size"
        checked={print !== null}
        onChange={({ currentTarget }) =>
          actions.change('deliver', {
            print: currentTarget.checked ? { widthMm: first, leastDpi: FIRST_DPI } : null,
          })
        }
      />
      {print && (
        <div className={classes.printSize}>
          <NumberField
            label="Width"
            suffix=" mm"
            value={print.widthMm}
            min={PRINT_MM.min}
            max={PRINT_MM.max}
            decimalScale={1}
            onCommit={(widthMm) => actions.change('deliver', { print: { ...print, widthMm } })}
          />
          <NumberField
            label="At least"
            suffix=" dpi"
            value={print.leastDpi}
            min={PRINT_DPI.min}
            max={PRINT_DPI.max}
            decimalScale={0}
            onCommit={(leastDpi) => actions.change('deliver', { print: { ...print, leastDpi } })}
          />
        </div>
      )}
    </div>
  );
}

function FileName({ onError }: { readonly onError: (message: string | null) => void }) {
  const piece = useBench((state) => state.piece);
  const chosen = useBench((state) => state.cut.deliver.fileName);
  const actions = useBenchActions();
  const proposed = proposedFileName(piece.name);
  const [typed, setTyped] = useState<string | null>(null);
  const error = typed === null ? null : problemOf(typed);
  const save = () => {
    if (typed === null || error) return;
    const name = checkFileName(typed);
    actions.change('deliver', { fileName: name === proposed ? null : name });
    setTyped(null);
  };
  return (
    <TextInput
      label="File name"
      value={typed ?? chosen ?? proposed}
      error={error}
      onChange={({ currentTarget: { value } }) => {
        setTyped(value);
        onError(problemOf(value));
      }}
      onBlur={save}
      onKeyDown={(event) => {
        if (event.key === 'Enter') save();
        if (event.key === 'Escape') {
          setTyped(null);
          onError(null);
        }
      }}
    />
  );
}

function problemOf(name: string): string | null {
  try {
    checkFileName(name);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

function Report({
  made,
  sameAsShown,
}: {
  readonly made: readonly DeliveryFacts[];
  readonly sameAsShown: boolean | null;
}) {
  const [first] = made;
  if (!first) return null;
  const pixels = first.width * first.height;
  return (
    <section className={classes.report} aria-label="Delivered">
      <p className={classes.verified}>
        <IconCircleCheck size={18} stroke={1.7} aria-hidden="true" />
        {made.length === 1 ? 'Read back and equal' : 'Each read back and equal'}
      </p>
      {made.map((delivery) => (
        <p key={delivery.id}>
          <a href={api.deliveryAddress(delivery.id)} download={delivery.fileName}>
            {delivery.fileName}
          </a>
          , {formatBytes(delivery.bytes)}
        </p>
      ))}
      <p>
        {formatShare(first.transparent / pixels)} transparent, {formatShare(first.partly / pixels)} partly,{' '}
        {formatShare(first.opaque / pixels)} opaque
      </p>
      {sameAsShown && <p className={classes.soft}>Every pixel is the one the bench showed.</p>}
    </section>
  );
}

function Deliveries({ deliveries }: { readonly deliveries: readonly DeliveryFacts[] }) {
  return (
    <section aria-label="Deliveries of this piece">
      <h2>Deliveries</h2>
      <ul className={classes.deliveries}>
        {deliveries.map((delivery) => (
          <li key={delivery.id}>
            <a href={api.deliveryAddress(delivery.id)} download={delivery.fileName}>
              {delivery.fileName}
            </a>
            <span className={classes.soft}>
              {formatMoment(delivery.createdAt)}, {formatBytes(delivery.bytes)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
