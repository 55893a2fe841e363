import { Button } from '@mantine/core';
import { IconPhotoDown } from '@tabler/icons-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { watermarksApi } from '../../bench/watermarks-api';
import { takeSelected, runsApi } from '../../bench/runs-api';
import { dayOf } from '../../core/day-of';
import { counted } from '../../core/findings/finding';
import { AS_BROUGHT, type Marked } from '../../core/watermark/settings';
import { Gathering, type useGathered } from '../runs/Gathering';
import { chooseFolder, useBringing } from '../shelf/use-bringing';
import { MarkedFields } from './MarkedFields';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

export type Gathered = ReturnType<typeof useGathered>;

/** Photos that are to be marked, what is made of them, and the run that does it. */
export function MarkPanel({ gathered }: { readonly gathered: Gathered }) {
  const router = useRouter();
  const id = useWatermark((state) => state.id);
  const actions = useWatermarkActions();
  const browse = useRef<HTMLInputElement>(null);
  const [marked, setMarked] = useState<Marked>(AS_BROUGHT);
  const [selected, setSelected] = useState<readonly string[]>([]);
  const [busy, setBusy] = useState(false);
  const [kept, setKept] = useState<string | null>(null);
  const { bring, unpacking } = useBringing(gathered.intake);
  // oxlint-disable-next-line react/set-state-in-effect -- sessions are known to the page alone
  useEffect(() => setSelected(takeSelected()), []);
  const pieces = [...selected, ...gathered.pieces];
  const isReady = pieces.length > 0 && gathered.travelling === 0;
  const keep = async () => {
    setBusy(true);
    try {
      await actions.whenSaved();
      setKept((await watermarksApi.keepRoutine(id, marked)).routine);
    } catch (error) {
      actions.tell(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  const begin = async () => {
    setBusy(true);
    try {
      await actions.whenSaved();
      const { run } = await runsApi.begin({
        marking: { watermark: id, marked },
        pieces,
        refused: gathered.refused,
        date: dayOf(new Date()),
      });
      router.push(`/runs/${run.id}`);
    } catch (error) {
      actions.tell(error instanceof Error ? error.message : String(error));
      setBusy(false);
    }
  };
  const label =
    gathered.travelling > 0
      ? `${counted(gathered.travelling, 'photo')} still coming in`
      : pieces.length === 0
        ? 'Mark photos'
        : `Mark ${counted(pieces.length, 'photo')}`;
  return (
    <>
      <section className={classes.block} aria-label="Photos">
        <p>
          <IconPhotoDown size={16} stroke={1.6} aria-hidden="true" /> Drop photos, a folder or a ZIP anywhere
          on this screen. They come to the Shelf too, and stay as they are.
        </p>
        <div className={classes.add}>
          <input
            ref={browse}
            type="file"
            multiple
            hidden
            aria-label="Photos to mark"
            onChange={({ currentTarget }) => {
              void bring([...(currentTarget.files ?? [])]);
              currentTarget.value = '';
            }}
          />
          <Button size="xs" variant="default" onClick={() => browse.current?.click()}>
            Browse
          </Button>
          <Button size="xs" variant="default" onClick={() => chooseFolder((files) => void bring(files))}>
            Folder
          </Button>
        </div>
        {unpacking !== null && <p className={classes.soft}>Unpacking {unpacking}</p>}
        <Gathering gathered={gathered} selected={selected.length} onForget={() => setSelected([])} />
        <Button loading={busy} disabled={!isReady} onClick={() => void begin()}>
          {label}
        </Button>
      </section>
      <section className={classes.block} aria-label="What is made">
        <MarkedFields marked={marked} onChange={setMarked} />
        <Button
          size="xs"
          variant="default"
          className={classes.short}
          disabled={busy}
          onClick={() => void keep()}
        >
          Keep as a routine
        </Button>
        {kept !== null && (
          <p className={classes.soft} role="status">
            Kept as the routine “{kept}”: it is there under Runs and for watched folders.
          </p>
        )}
      </section>
    </>
  );
}
