import { NativeSelect, TextInput } from '@mantine/core';
import { QUALITY } from '../../core/stages/deliver/output-settings';
import { LONG_SIDE_PX, MEGAPIXELS, type Marked } from '../../core/watermark/settings';
import { NumberField } from '../bench/NumberField';
import classes from './watermarks.module.css';

/** What is made of marked photos. */
export function MarkedFields({
  marked,
  onChange,
}: {
  readonly marked: Marked;
  readonly onChange: (marked: Marked) => void;
}) {
  const set = (change: Partial<Marked>) => onChange({ ...marked, ...change });
  return (
    <>
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
    </>
  );
}
