import { Button, Loader, TextInput } from '@mantine/core';
import { IconAlertTriangle, IconCircleCheck } from '@tabler/icons-react';
import { useState } from 'react';
import { checkFileName, proposedFileName } from '../../core/stages/deliver/file-name';
import type { DeliveryFacts } from '../../bench/api';
import { api } from '../../bench/api';
import { formatBytes, formatMoment, formatShare } from '../format';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** Name and format of the file, the delivery itself, and those made before. */
export function DeliverSettings() {
  const piece = useBench((state) => state.piece);
  const delivering = useBench((state) => state.delivering);
  const deliveries = useBench((state) => state.deliveries);
  const actions = useBenchActions();
  const [nameError, setNameError] = useState<string | null>(null);
  const busy = delivering.kind === 'busy';
  return (
    <>
      <FileName onError={setNameError} />
      <dl className={classes.facts}>
        <div>
          <dt>Format</dt>
          <dd>PNG, 8-bit RGBA, straight alpha</dd>
        </div>
        <div>
          <dt>Size</dt>
          <dd>
            {piece.width} x {piece.height} px{piece.dpi ? `, ${piece.dpi} dpi` : ''}
          </dd>
        </div>
        <div>
          <dt>Hidden color</dt>
          <dd>removed: nothing of the background stays in the file</dd>
        </div>
      </dl>
      <div className={classes.row}>
        <Button size="xs" onClick={() => void actions.deliver()} disabled={busy || nameError !== null}>
          Deliver PNG
        </Button>
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
        {delivering.kind === 'done' && (
          <Report delivery={delivering.delivery} sameAsShown={delivering.sameAsShown} />
        )}
      </div>
      {deliveries.length > 0 && <Deliveries deliveries={deliveries} />}
    </>
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
    actions.setFileName(name === proposed ? null : name);
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
  delivery,
  sameAsShown,
}: {
  readonly delivery: DeliveryFacts;
  readonly sameAsShown: boolean | null;
}) {
  const pixels = delivery.width * delivery.height;
  return (
    <section className={classes.report} aria-label="Delivered">
      <p className={classes.verified}>
        <IconCircleCheck size={18} stroke={1.7} aria-hidden="true" />
        Read back and equal
      </p>
      <p>
        <a href={api.deliveryAddress(delivery.id)} download={delivery.fileName}>
          {delivery.fileName}
        </a>
        , {formatBytes(delivery.bytes)}
      </p>
      <p>
        {formatShare(delivery.transparent / pixels)} transparent, {formatShare(delivery.partly / pixels)}{' '}
        partly, {formatShare(delivery.opaque / pixels)} opaque
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
