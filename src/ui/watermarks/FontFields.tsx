import { Button, FileButton, NativeSelect, Select } from '@mantine/core';
import { TYPEFACES, WEIGHT, type TextPart, type Typeface } from '../../core/watermark/settings';
import { NumberField } from '../bench/NumberField';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

/** The typeface of a text: one that ships, or a font file that was brought. */
export function FontFields({ part }: { readonly part: TextPart }) {
  const fonts = useWatermark((state) => state.fonts);
  const actions = useWatermarkActions();
  const { font } = part;
  const data = [
    {
      group: 'Typefaces',
      items: Object.entries(TYPEFACES).map(([value, { name, kind }]) => ({
        value,
        label: `${name} (${kind})`,
      })),
    },
    ...(fonts.length > 0
      ? [
          {
            group: 'Brought',
            items: fonts.map(({ sha256, name, facts }) => ({ value: sha256, label: facts.family || name })),
          },
        ]
      : []),
  ];
  const value = font.kind === 'shipped' ? font.which : font.kind === 'brought' ? font.file : null;
  return (
    <>
      <Select
        label="Typeface"
        size="xs"
        allowDeselect={false}
        searchable
        data={data}
        value={value}
        onChange={(next) => {
          if (next === null) return;
          const isShipped = next in TYPEFACES;
          actions.changePart(part.id, {
            font: isShipped
              ? { kind: 'shipped', which: next as Typeface }
              : { kind: 'brought', name: fonts.find(({ sha256 }) => sha256 === next)!.name, file: next },
          });
        }}
      />
      <div className={classes.fields}>
        <WeightField part={part} />
        <FileButton
          accept=".ttf,.otf,.woff2"
          onChange={(file) => file && void actions.bringFont(file, part.id)}
        >
          {(props) => (
            <Button {...props} size="xs" variant="default" className={classes.low}>
              Bring a font
            </Button>
          )}
        </FileButton>
      </div>
    </>
  );
}

const WEIGHT_WORDS: Readonly<Record<number, string>> = {
  300: 'light',
  400: 'regular',
  600: 'semibold',
  700: 'bold',
};

function WeightField({ part }: { readonly part: TextPart }) {
  const fonts = useWatermark((state) => state.fonts);
  const actions = useWatermarkActions();
  const { font, weight } = part;
  if (font.kind === 'shipped') {
    const { weights } = TYPEFACES[font.which];
    const nearest = [...weights].sort((one, other) => Math.abs(one - weight) - Math.abs(other - weight))[0]!;
    return (
      <NativeSelect
        label="Weight"
        size="xs"
        disabled={weights.length === 1}
        value={String(nearest)}
        data={weights.map((one) => ({ value: String(one), label: `${one} ${WEIGHT_WORDS[one] ?? ''}` }))}
        onChange={({ currentTarget }) => actions.changePart(part.id, { weight: Number(currentTarget.value) })}
      />
    );
  }
  const own =
    font.kind === 'brought' ? fonts.find(({ sha256 }) => sha256 === font.file)?.facts.weights : null;
  if (!own) return <p className={classes.soft}>This font has one weight.</p>;
  return (
    <NumberField
      label="Weight"
      value={weight}
      min={Math.max(WEIGHT.min, Math.ceil(own.min))}
      max={Math.min(WEIGHT.max, Math.floor(own.max))}
      decimalScale={0}
      onCommit={(value) => actions.changePart(part.id, { weight: Math.round(value) })}
    />
  );
}
