import { OUTPUT_FORMATS } from '../../core/formats';
import { NAME_PARTS, plannedFiles } from '../../core/stages/deliver/planned-files';
import { PRINT_DPI, PRINT_MM } from '../../core/stages/deliver/settings';
import { Button, Loader, SegmentedControl, Switch, TextInput } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useState } from 'react';
import { dpiAt } from '../../core/stages/deliver/print';
import { checkFileName, proposedFileName } from '../../core/stages/deliver/file-name';
import type { DeliveryFacts } from '../../bench/api';
import { dayOf } from '../../core/day-of';
import { formatBytes, formatMoment } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { CreditFields } from './CreditFields';
import { DeliveryLink, DeliveryReport } from './DeliveryReport';
import { titleOf } from './Findings';
import { NumberField } from './NumberField';
import { OutputList } from './OutputList';

/** What is delivered, the delivery itself, and those made before. */
export function DeliverSettings() {
  const delivering = useBench((state) => state.delivering);
  const deliveries = useBench((state) => state.deliveries);
  const actions = useBenchActions();
  const [nameError, setNameError] = useState<string | null>(null);
  const outputs = useBench((state) => state.cut.deliver.outputs);
  const hidden = useBench((state) => state.cut.deliver.hidden);
  const colorways = useBench((state) => state.cut.ink.colorways);
  const busy = delivering.kind === 'busy';
  const files = outputs.length === 1 ? OUTPUT_FORMATS[outputs[0]!.format].name : `${outputs.length} files`;
  return (
    <>
      <FileName onError={setNameError} />
      <OutputList />
      <PrintSize />
      <div>
        <span className={classes.label} id="hidden-color-label">
          Hidden color
        </span>
        <SegmentedControl
          fullWidth
          size="xs"
          aria-labelledby="hidden-color-label"
          value={hidden}
          onChange={(value) => actions.change('deliver', { hidden: value === 'bled' ? 'bled' : 'removed' })}
          data={[
            { value: 'removed', label: 'Removed' },
            { value: 'bled', label: 'Bled outward' },
          ]}
        />
        <p className={classes.soft}>
          {hidden === 'removed'
            ? 'Nothing of the background stays in the file.'
            : 'Under full transparency the edge’s color goes on, for programs that mix it in; nothing of the background stays.'}
        </p>
      </div>
      <CreditFields />
      <StillOpen />
      <div className={classes.row}>
        <Button size="xs" onClick={() => void actions.deliver()} disabled={busy || nameError !== null}>
          Deliver {files}
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
        {(delivering.kind === 'done' || delivering.kind === 'failed') && (
          <DeliveryReport
            made={delivering.made}
            sameAsShown={delivering.kind === 'done' && delivering.sameAsShown}
          />
        )}
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
  const deliver = useBench((state) => state.cut.deliver);
  const colorways = useBench((state) => state.cut.ink.colorways);
  const actions = useBenchActions();
  const chosen = deliver.fileName;
  const isSingle = deliver.outputs.length === 1;
  const { ending } = OUTPUT_FORMATS[deliver.outputs[0]!.format];
  const proposed = isSingle ? proposedFileName(piece.name).replace(/\.png$/, ending) : '{piece}-cutout';
  const [typed, setTyped] = useState<string | null>(null);
  const [today] = useState(() => dayOf(new Date()));
  const error = typed === null ? null : problemOf(typed, ending);
  const save = () => {
    if (typed === null || error) return;
    const name = isSingle && !typed.includes('{') ? checkFileName(typed, ending) : typed.trim();
    actions.change('deliver', { fileName: name === proposed ? null : name });
    setTyped(null);
  };
  const names = plannedFiles(
    {
      deliver:
        typed === null || error ? deliver : { ...deliver, fileName: typed === proposed ? null : typed },
      ink: { colorways },
    },
    piece.name,
    today,
  );
  return (
    <div>
      <TextInput
        label="File name"
        value={typed ?? chosen ?? proposed}
        error={error}
        onChange={({ currentTarget: { value } }) => {
          setTyped(value);
          onError(problemOf(value, ending));
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
      {(names.length > 1 || (typed ?? chosen ?? '').includes('{')) && (
        <p className={classes.soft}>
          {names
            .slice(0, 3)
            .map(({ name }) => name)
            .join(', ')}
          {names.length > 3 ? ` and ${names.length - 3} more` : ''}. In a name may stand{' '}
          {NAME_PARTS.map((part) => `{${part}}`).join(' ')}.
        </p>
      )}
    </div>
  );
}

function problemOf(name: string, ending: string): string | null {
  try {
    checkFileName(name.replace(/[{}]/g, ''), ending);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

function Deliveries({ deliveries }: { readonly deliveries: readonly DeliveryFacts[] }) {
  return (
    <section aria-label="Deliveries of this piece">
      <h2>Deliveries</h2>
      <ul className={classes.deliveries}>
        {deliveries.map((delivery) => (
          <li key={delivery.id}>
            <DeliveryLink delivery={delivery} />
            <span className={classes.soft}>
              {formatMoment(delivery.createdAt)}, {formatBytes(delivery.bytes)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
