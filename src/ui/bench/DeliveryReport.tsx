import { Button } from '@mantine/core';
import { IconCircleCheck, IconCopy, IconFileZip } from '@tabler/icons-react';
import { useState, type DragEvent } from 'react';
import { api, type DeliveryFacts } from '../../bench/api';
import { isOutputFormat, OUTPUT_FORMATS } from '../../core/formats';
import { saveJson } from '../save-json';
import { formatBytes, formatNumber, formatShare } from '../format';
import { useBench } from './bench-context';
import classes from './bench.module.css';
import { lossWords } from './loss-words';
import { folderPicker, saveIntoFolder } from '../save-into-folder';

/** A delivered file: a link that saves it, and that can be dragged out of the page. */
export function DeliveryLink({ delivery }: { readonly delivery: DeliveryFacts }) {
  const { id, fileName, format } = delivery;
  const drag = (event: DragEvent) => {
    const address = new URL(api.deliveryAddress(id), window.location.href).href;
    const mime = isOutputFormat(format) ? OUTPUT_FORMATS[format].mime : 'application/octet-stream';
    event.dataTransfer.setData('DownloadURL', `${mime}:${fileName}:${address}`);
    event.dataTransfer.setData('text/uri-list', address);
  };
  return (
    <a href={api.deliveryAddress(id)} download={fileName} draggable onDragStart={drag}>
      {fileName}
    </a>
  );
}

/** What was written, and how it was found when it was read back. */
export function DeliveryReport({
  made,
  sameAsShown,
}: {
  readonly made: readonly DeliveryFacts[];
  readonly sameAsShown: boolean | null;
}) {
  const pieceName = useBench((state) => state.piece.name);
  const [first] = made;
  if (!first) return null;
  const pixels = first.transparent + first.partly + first.opaque;
  const isExact = made.every(({ findings }) => findings === null || isWhole(findings));
  const stem = pieceName.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  return (
    <section className={classes.report} aria-label="Delivered">
      <p className={classes.verified}>
        <IconCircleCheck size={18} stroke={1.7} aria-hidden="true" />
        {wordsOfCheck(made.length, isExact)}
      </p>
      {made.map((delivery) => (
        <div key={delivery.id}>
          <DeliveryLink delivery={delivery} />, {formatBytes(delivery.bytes)}
          <br />
          <span className={classes.soft}>
            {delivery.width} x {delivery.height} px
            {delivery.dpi ? `, ${formatNumber(delivery.dpi, 0)} dpi` : ''}
            {delivery.findings
              ? `, ${delivery.findings.kind}. ${lossWords(delivery.format, delivery.findings)}`
              : ''}
            {delivery.findings?.independent === false
              ? ' Read back by what wrote it: there is no second reader.'
              : ''}
            {delivery.findings?.redrawn === true
              ? ' Its pixels differ from those that an earlier Kenosis delivered of this step: edges are found more exactly now. The earlier file is as it was.'
              : ''}
          </span>
        </div>
      ))}
      <p>
        {formatShare(first.transparent / pixels)} transparent, {formatShare(first.partly / pixels)} partly,{' '}
        {formatShare(first.opaque / pixels)} opaque
      </p>
      {sameAsShown && (
        <p className={classes.soft}>
          {isExact && made.every(({ findings }) => findings?.scale === 1)
            ? 'Every pixel is the one the bench showed.'
            : 'Made of the very pixels the bench showed.'}
        </p>
      )}
      <div className={classes.reportRow}>
        <Copy made={made} />
        <Button
          size="compact-xs"
          variant="default"
          component="a"
          href={api.zipAddress(
            made.map(({ id }) => id),
            stem,
          )}
          download={`${stem}.zip`}
          leftSection={<IconFileZip size={14} stroke={1.6} aria-hidden="true" />}
        >
          {made.length === 1 ? 'ZIP with report' : 'All as one ZIP'}
        </Button>
        <IntoFolder made={made} />
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => saveJson({ deliveries: made }, `${stem}-report.json`)}
        >
          Report
        </Button>
      </div>
    </section>
  );
}

function isWhole({ color, alpha }: NonNullable<DeliveryFacts['findings']>): boolean {
  return color.largest === 0 && alpha.largest === 0;
}

function wordsOfCheck(count: number, isExact: boolean): string {
  if (count === 1) return isExact ? 'Read back and equal' : 'Read back, within what its format loses';
  return isExact ? 'Each read back and equal' : 'Each read back, within what its format loses';
}

/** Writes what was delivered into a folder that is chosen, in browsers that can. */
function IntoFolder({ made }: { readonly made: readonly DeliveryFacts[] }) {
  const [said, setSaid] = useState<string | null>(null);
  const pick = folderPicker();
  if (!pick) return null;
  const save = async () => {
    try {
      const names = await saveIntoFolder(
        await pick(),
        made.map(({ id, fileName }) => ({
          name: fileName,
          load: async () => {
            const response = await fetch(api.deliveryAddress(id));
            if (!response.ok) throw new Error(`${fileName} is not there any more.`);
            return response.blob();
          },
        })),
      );
      setSaid(names.length === 1 ? `Written: ${names[0]}` : `${names.length} written`);
    } catch (error) {
      // Whoever chose no folder wants none.
      if ((error as Error).name !== 'AbortError') setSaid('That folder cannot be written to.');
    }
  };
  return (
    <Button size="compact-xs" variant="default" onClick={() => void save()}>
      {said ?? 'Into a folder'}
    </Button>
  );
}

/** The newest PNG as a picture on the clipboard, with its alpha. */
function Copy({ made }: { readonly made: readonly DeliveryFacts[] }) {
  const [state, setState] = useState<'idle' | 'done' | 'failed'>('idle');
  const png = made.find(({ format }) => format === 'png');
  if (!png) return null;
  const copy = async () => {
    try {
      const response = await fetch(api.deliveryAddress(png.id));
      if (!response.ok) throw new Error('not there');
      const blob = new Blob([await response.arrayBuffer()], { type: 'image/png' });
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': blob })]);
      setState('done');
    } catch {
      setState('failed');
    }
  };
  return (
    <Button
      size="compact-xs"
      variant="default"
      leftSection={<IconCopy size={14} stroke={1.6} aria-hidden="true" />}
      onClick={() => void copy()}
    >
      {state === 'idle' ? 'Copy the picture' : state === 'done' ? 'Copied' : 'Not allowed here'}
    </Button>
  );
}
