import { Button, NativeSelect, TextInput } from '@mantine/core';
import { IconPhotoDown } from '@tabler/icons-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { takeSelected, runsApi } from '../../bench/runs-api';
import { dayOf } from '../../core/day-of';
import { counted } from '../../core/findings/finding';
import { QUALITY } from '../../core/stages/deliver/output-settings';
import { AS_BROUGHT, LONG_SIDE_PX, MEGAPIXELS, type Marked } from '../../core/watermark/settings';
import { NumberField } from '../bench/NumberField';
import { Gathering, type useGathered } from '../runs/Gathering';
import { chooseFolder, useBringing } from '../shelf/use-bringing';
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
  const { bring, unpacking } = useBringing(gathered.intake);
  // eslint-disable-next-line react-hooks/set-state-in-effect -- sessions are known to the page alone
  useEffect(() => setSelected(takeSelected()), []);
  const pieces = [...selected, ...gathered.pieces];
  const isReady = pieces.length > 0 && gathered.travelling === 0;
  const set = (change: Partial<Marked>) => setMarked({ ...marked, ...change });
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
        <div className={classes.fields}>
          <NativeSelect
            label="Format"
            size="xs"
            value={marked.format}
            data={[
              { value: 'same', label: 'as it came' },
              { value: 'jpeg', label: 'JPEG' },
              { value: 'png', label: 'PNG' },
              { value: 'webp', label: 'WebP' },
              { value: 'tiff', label: 'TIFF' },
            ]}
            onChange={({ currentTarget }) => set({ format: currentTarget.value as Marked['format'] })}
          />
          <NumberField
            label="Quality of JPEG, WebP"
            value={marked.quality}
            {...QUALITY}
            decimalScale={0}
            onCommit={(quality) => set({ quality: Math.round(quality) })}
          />
          <NativeSelect
            label="Size"
            size="xs"
            value={marked.resize.kind}
            data={[
              { value: 'own', label: 'as it is' },
              { value: 'long', label: 'longer side' },
              { value: 'megapixels', label: 'megapixels' },
            ]}
            onChange={({ currentTarget: { value } }) =>
              set({
                resize:
                  value === 'long'
                    ? { kind: 'long', px: 2048 }
                    : value === 'megapixels'
                      ? { kind: 'megapixels', megapixels: 2 }
                      : { kind: 'own' },
              })
            }
          />
          {marked.resize.kind === 'long' && (
            <NumberField
              label="At most"
              value={marked.resize.px}
              {...LONG_SIDE_PX}
              suffix={'\u00a0px'}
              decimalScale={0}
              onCommit={(px) => set({ resize: { kind: 'long', px: Math.round(px) } })}
            />
          )}
          {marked.resize.kind === 'megapixels' && (
            <NumberField
              label="At most"
              value={marked.resize.megapixels}
              {...MEGAPIXELS}
              suffix={'\u00a0MP'}
              decimalScale={2}
              onCommit={(megapixels) => set({ resize: { kind: 'megapixels', megapixels } })}
            />
          )}
          <NativeSelect
            label="Where it was taken"
            size="xs"
            value={marked.location}
            data={[
              { value: 'kept', label: 'stays in the file' },
              { value: 'dropped', label: 'is left out' },
            ]}
            onChange={({ currentTarget }) => set({ location: currentTarget.value as Marked['location'] })}
          />
        </div>
        <TextInput
          label="Author"
          size="xs"
          maxLength={200}
          placeholder="as the photo has it"
          value={marked.author}
          onChange={({ currentTarget }) => set({ author: currentTarget.value })}
        />
        <TextInput
          label="Copyright"
          size="xs"
          maxLength={200}
          placeholder="as the photo has it"
          value={marked.copyright}
          onChange={({ currentTarget }) => set({ copyright: currentTarget.value })}
        />
        <TextInput
          label="File name"
          size="xs"
          value={marked.fileName}
          error={marked.fileName === '' ? 'A name is needed.' : undefined}
          description="{piece}, {date}, {width} and {height} are filled in"
          onChange={({ currentTarget }) => set({ fileName: currentTarget.value })}
        />
      </section>
    </>
  );
}
