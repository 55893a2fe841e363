import { Button, Loader, SegmentedControl } from '@mantine/core';
import { IconCircleCheck, IconDownload } from '@tabler/icons-react';
import { useState } from 'react';
import { proofsApi, type KnownGroundFacts, type ProofFileFacts } from '../../bench/proofs-api';
import type { Ground } from '../../core/proof/settings';
import { OUTPUT_DPI } from '../../core/stages/deliver/output-settings';
import { NumberField } from '../bench/NumberField';
import { formatBytes, formatNumber } from '../format';
import { useProof, useProofActions } from './proof-context';
import classes from './proofs.module.css';
import { TemplateField } from './TemplateField';

type Format = 'png' | 'jpeg' | 'pdf';

/** Hands a ground over with the pieces on it, or the held piece alone as large as it lies there. */
export function HandOverPanel({
  ground,
  facts,
}: {
  readonly ground: Ground;
  readonly facts: KnownGroundFacts;
}) {
  const canPdf = facts.isPage && !facts.isSigned;
  const [chosen, setChosen] = useState<Format | null>(null);
  const [dpi, setDpi] = useState(300);
  const id = useProof((state) => state.id);
  const held = useProof((state) => state.held);
  const handing = useProof((state) => state.handing);
  const files = useProof((state) => state.files);
  const actions = useProofActions();
  const format = chosen ?? (canPdf && facts.unit === 'mm' ? 'pdf' : 'png');
  const busy = handing.kind === 'busy';
  const deliver = async (wanted: Format | 'piece', placement?: string) => {
    const file = await actions.handOver({
      ground: ground.id,
      format: wanted,
      dpi,
      ...(placement ? { placement } : {}),
    });
    if (file) save(proofsApi.fileAddress(id, file.id));
  };
  const own = files.filter((file) => file.ground === ground.id);
  return (
    <section className={classes.block} aria-label="Hand over">
      <h2>Hand over</h2>
      <SegmentedControl
        fullWidth
        aria-label="Format"
        value={format}
        onChange={(value) => setChosen(value as Format)}
        data={[
          ...(canPdf ? [{ value: 'pdf', label: 'PDF' }] : []),
          { value: 'png', label: 'PNG' },
          { value: 'jpeg', label: 'JPEG' },
        ]}
      />
      <Button fullWidth disabled={busy || ground.placed.length === 0} onClick={() => void deliver(format)}>
        Deliver {format === 'jpeg' ? 'JPEG' : format.toUpperCase()}
      </Button>
      <div className={classes.copyRow}>
        {facts.unit === 'mm' && (
          <NumberField
            aria-label="Resolution of pictures"
            value={dpi}
            min={OUTPUT_DPI.min}
            max={OUTPUT_DPI.max}
            decimalScale={0}
            suffix={'\u00a0dpi'}
            onCommit={(value) => setDpi(Math.round(value))}
          />
        )}
        {held !== null && ground.placed.some((one) => one.id === held) && (
          <Button
            variant="default"
            size="xs"
            disabled={busy}
            title="The piece alone as PNG, exactly as large as it lies here"
            onClick={() => void deliver('piece', held)}
          >
            Copy for this place
          </Button>
        )}
      </div>
      {busy && (
        <p className={classes.busy} role="status">
          <Loader size={14} /> Writing it, and reading it back
          <Button size="compact-xs" variant="subtle" onClick={actions.stopHandingOver}>
            Cancel
          </Button>
        </p>
      )}
      {handing.kind === 'failed' && (
        <p className={classes.trouble} role="alert">
          {handing.message}
        </p>
      )}
      {own.length > 0 && (
        <ul className={classes.files} aria-label="Handed over">
          {own.slice(0, 12).map((file) => (
            <FileLine key={file.id} file={file} address={proofsApi.fileAddress(id, file.id)} />
          ))}
        </ul>
      )}
      {facts.unit === 'mm' && facts.isPage && ground.placed.length > 0 && <TemplateField />}
    </section>
  );
}

function FileLine({ file, address }: { readonly file: ProofFileFacts; readonly address: string }) {
  return (
    <li>
      <a href={address} title={file.fileName}>
        <IconDownload size={14} stroke={1.8} aria-hidden="true" />
        <span>{file.fileName}</span>
      </a>
      <span className={classes.verified}>
        <IconCircleCheck size={14} stroke={1.8} aria-hidden="true" />
        {verifiedWords(file)}
      </span>
    </li>
  );
}

/** What reading a file back showed. */
function verifiedWords({ bytes, width, height, findings }: ProofFileFacts): string {
  const size = formatBytes(bytes);
  const { page, color, decoder, kind } = findings;
  if (page)
    return `${kind}, ${size}, drawn by ${decoder}: like the proof within ${formatNumber(page.mean, 1)} levels, the rest of the page the same`;
  const off = color.mean === 0 ? 'the same pixels' : `within ${formatNumber(color.mean, 1)} levels`;
  return `${width} x ${height}\u00a0px, ${size}, read back by ${decoder}: ${off}`;
}

/** Lets the browser save a file, as a click on its name would. */
function save(address: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = '';
  link.click();
}
