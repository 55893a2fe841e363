import { Button, Select } from '@mantine/core';
import { useState } from 'react';
import { SHIPPED_SAMPLES, type SamplePhoto, type SampleState } from '../../bench/mark-drawer';
import { api } from '../../bench/api';
import { proofsApi } from '../../bench/proofs-api';
import { SamplePicture } from './SamplePicture';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

/** Photos that are shown at once. */
const MOST_SAMPLES = 6;

/** The photos of the Shelf are asked for about so wide. */
const SAMPLE_WIDTH_PX = 960;

/** The mark on six photos of different shapes, or on one alone. */
export function Samples() {
  const samples = useWatermark((state) => state.samples);
  const shown = useWatermark((state) => state.shown);
  const opened = useWatermark((state) => state.opened);
  const actions = useWatermarkActions();
  const some = opened === null ? samples : samples.filter(({ address }) => address === opened);
  return (
    <section
      className={classes.board}
      aria-label="The mark on photos"
      data-open={opened !== null || undefined}
    >
      <div className={classes.boardHead}>
        <ShownOn />
        {opened !== null && (
          <Button size="compact-xs" variant="default" onClick={() => actions.open(null)}>
            All photos
          </Button>
        )}
      </div>
      <ul className={classes.samples}>
        {some.map((sample) => (
          <li key={sample.address} className={classes.sample}>
            <button
              type="button"
              className={classes.sampleButton}
              title={opened === null ? 'Look at this one alone' : 'Show all photos'}
              onClick={() => actions.open(opened === null ? sample.address : null)}
            >
              <SamplePicture
                sample={sample}
                state={shown[sample.address]}
                label={`${sample.name} with the mark`}
              />
            </button>
            <Told sample={sample} state={shown[sample.address]} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What was measured of the mark on a photo. */
function Told({ sample, state }: { readonly sample: SamplePhoto; readonly state: SampleState | undefined }) {
  if (state?.kind !== 'shown') return <p className={classes.told}>{sample.name}</p>;
  const { copies, contrast, changed, remarks } = state.report;
  const [first] = copies;
  const veil = Math.max(0, ...copies.map((copy) => copy.veil));
  const words = [
    copies.length > 1 ? `${copies.length} copies` : first?.version,
    contrast === null ? null : `contrast ${contrast.toFixed(1)}`,
    veil > 0.005
      ? `${first?.version === 'dark' ? 'lightened' : 'darkened'} ${Math.round(100 * veil)}\u00a0%`
      : null,
    `changes ${(100 * changed).toFixed(changed < 0.1 ? 1 : 0)}\u00a0%`,
  ].filter((word) => word !== null && word !== undefined);
  return (
    <p className={classes.told}>
      {words.join(' · ')}
      {remarks.map((remark) => (
        <span key={remark} className={classes.warn}>
          {remark}
        </span>
      ))}
    </p>
  );
}

/** Which photos it is shown on. */
function ShownOn() {
  const actions = useWatermarkActions();
  const [which, setWhich] = useState<string>('shipped');
  const choose = async (next: string | null) => {
    if (next === null) return;
    if (next === 'shipped') {
      setWhich(next);
      return actions.showOn(SHIPPED_SAMPLES);
    }
    try {
      const { pieces } = await api.pieces();
      // Photos have many colors and no alpha; logos and scans are no use here.
      const photos = pieces.filter(({ format }) => format === 'jpeg').slice(0, MOST_SAMPLES);
      if (photos.length === 0) return actions.tell('There is no JPEG photo on the Shelf to show it on.');
      setWhich(next);
      actions.showOn(
        photos.map(({ id, name }) => ({
          name,
          address: proofsApi.groundAddress({ kind: 'picture', piece: id }, SAMPLE_WIDTH_PX),
        })),
      );
    } catch (error) {
      actions.tell(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Select
      aria-label="Shown on"
      size="xs"
      allowDeselect={false}
      value={which}
      data={[
        { value: 'shipped', label: 'Six samples' },
        { value: 'shelf', label: 'Newest photos of the Shelf' },
      ]}
      onChange={(next) => void choose(next)}
    />
  );
}
