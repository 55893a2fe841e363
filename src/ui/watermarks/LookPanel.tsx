import { ColorInput, NativeSelect, SegmentedControl, Switch } from '@mantine/core';
import {
  MARK_CONTRAST,
  MARK_OPACITY,
  OUTLINE_WIDTH,
  PERCENT,
  PLATE_ROOM,
  SHADOW_BLUR,
  SHADOW_OFFSET,
  type MarkLook,
} from '../../core/watermark/settings';
import { NumberField } from '../bench/NumberField';
import { SliderField } from '../bench/SliderField';
import { useWatermark, useWatermarkActions } from './watermark-context';
import classes from './watermarks.module.css';

const FIRST_OUTLINE: NonNullable<MarkLook['outline']> = { width: 3, color: null };
const FIRST_SHADOW: NonNullable<MarkLook['shadow']> = { x: 3, y: 4, blur: 8, opacity: 60, color: null };
const FIRST_PLATE: NonNullable<MarkLook['plate']> = { color: null, opacity: 50, room: 40, corner: 12 };

/** Colors, opacity, and what helps the mark to be read. */
export function LookPanel() {
  const look = useWatermark((state) => state.watermark.look);
  const { changeLook, draftLook } = useWatermarkActions();
  const { outline, shadow, plate, contrast } = look;
  const number = (
    label: string,
    value: number,
    range: { readonly min: number; readonly max: number },
    made: (value: number) => Partial<MarkLook>,
    suffix = '',
  ) => (
    <NumberField
      label={label}
      value={value}
      min={range.min}
      max={range.max}
      suffix={suffix}
      decimalScale={1}
      onDraft={(next) => draftLook(made(next))}
      onCommit={(next) => changeLook(made(next))}
    />
  );
  return (
    <>
      <section className={classes.block} aria-label="Light or dark">
        <div>
          <span className={classes.label}>Light or dark</span>
          <SegmentedControl
            fullWidth
            aria-label="Light or dark"
            value={look.version}
            data={[
              { value: 'auto', label: 'as it reads best' },
              { value: 'light', label: 'light' },
              { value: 'dark', label: 'dark' },
            ]}
            onChange={(version) => changeLook({ version })}
          />
        </div>
        <div className={classes.fields}>
          <Color label="Light color" value={look.light} onChange={(light) => changeLook({ light })} />
          <Color label="Dark color" value={look.dark} onChange={(dark) => changeLook({ dark })} />
        </div>
        <SliderField
          label="Opacity"
          suffix={'\u00a0%'}
          value={look.opacity}
          step={1}
          {...MARK_OPACITY}
          onDraft={(opacity) => draftLook({ opacity })}
          onCommit={(opacity) => changeLook({ opacity })}
        />
        <NativeSelect
          label="Lies"
          size="xs"
          value={look.blend}
          data={[
            { value: 'normal', label: 'on top' },
            { value: 'lighten', label: 'where it is lighter than the photo' },
            { value: 'darken', label: 'where it is darker than the photo' },
          ]}
          onChange={({ currentTarget }) => changeLook({ blend: currentTarget.value as MarkLook['blend'] })}
        />
      </section>
      <section className={classes.block} aria-label="Contrast">
        <SliderField
          label="Contrast along its edge, at least"
          value={contrast.least}
          step={0.1}
          nudge={0.1}
          {...MARK_CONTRAST}
          onDraft={(least) => draftLook({ contrast: { ...contrast, least } })}
          onCommit={(least) => changeLook({ contrast: { ...contrast, least } })}
          note="Where a photo gives less, it is softly darkened or lightened around the mark, no farther than needed."
        />
        <SliderField
          label="Darken or lighten at most"
          suffix={'\u00a0%'}
          value={contrast.most}
          step={1}
          {...PERCENT}
          onDraft={(most) => draftLook({ contrast: { ...contrast, most } })}
          onCommit={(most) => changeLook({ contrast: { ...contrast, most } })}
          note="Beyond that the mark becomes more opaque."
        />
      </section>
      <section className={classes.block} aria-label="Outline, shadow and plate">
        <Switch
          label="Outline"
          checked={outline !== null}
          onChange={({ currentTarget }) =>
            changeLook({ outline: currentTarget.checked ? FIRST_OUTLINE : null })
          }
        />
        {outline && (
          <div className={classes.fields}>
            {number('Width', outline.width, OUTLINE_WIDTH, (width) => ({ outline: { ...outline, width } }))}
            <OtherColor
              value={outline.color}
              onChange={(color) => changeLook({ outline: { ...outline, color } })}
            />
          </div>
        )}
        <Switch
          label="Soft shadow"
          checked={shadow !== null}
          onChange={({ currentTarget }) =>
            changeLook({ shadow: currentTarget.checked ? FIRST_SHADOW : null })
          }
        />
        {shadow && (
          <div className={classes.fields}>
            {number('To the right', shadow.x, SHADOW_OFFSET, (x) => ({ shadow: { ...shadow, x } }))}
            {number('Down', shadow.y, SHADOW_OFFSET, (y) => ({ shadow: { ...shadow, y } }))}
            {number('Blur', shadow.blur, SHADOW_BLUR, (blur) => ({ shadow: { ...shadow, blur } }))}
            {number(
              'Strength',
              shadow.opacity,
              PERCENT,
              (opacity) => ({ shadow: { ...shadow, opacity } }),
              '\u00a0%',
            )}
            <OtherColor
              value={shadow.color}
              onChange={(color) => changeLook({ shadow: { ...shadow, color } })}
            />
          </div>
        )}
        <Switch
          label="Plate behind it"
          checked={plate !== null}
          onChange={({ currentTarget }) => changeLook({ plate: currentTarget.checked ? FIRST_PLATE : null })}
        />
        {plate && (
          <div className={classes.fields}>
            {number('Room', plate.room, PLATE_ROOM, (room) => ({ plate: { ...plate, room } }))}
            {number('Corners', plate.corner, PLATE_ROOM, (corner) => ({ plate: { ...plate, corner } }))}
            {number(
              'Opacity',
              plate.opacity,
              PERCENT,
              (opacity) => ({ plate: { ...plate, opacity } }),
              '\u00a0%',
            )}
            <OtherColor
              value={plate.color}
              onChange={(color) => changeLook({ plate: { ...plate, color } })}
            />
          </div>
        )}
        {(outline ?? shadow ?? plate) && (
          <p className={classes.soft}>Lengths: 100 is the height of letters of size 100.</p>
        )}
      </section>
    </>
  );
}

function Color({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (color: string) => void;
}) {
  return (
    <ColorInput
      label={label}
      size="xs"
      format="hex"
      withEyeDropper={false}
      defaultValue={value}
      key={value}
      onChangeEnd={(color) => /^#[0-9a-f]{6}$/i.test(color) && onChange(color.toLowerCase())}
    />
  );
}

/** A color that is the other version's where none is named. */
function OtherColor({
  value,
  onChange,
}: {
  readonly value: string | null;
  readonly onChange: (color: string | null) => void;
}) {
  return (
    <>
      <NativeSelect
        label="Color"
        size="xs"
        value={value === null ? 'other' : 'own'}
        data={[
          { value: 'other', label: "the other version's" },
          { value: 'own', label: 'its own' },
        ]}
        onChange={({ currentTarget }) => onChange(currentTarget.value === 'own' ? '#000000' : null)}
      />
      {value !== null && <Color label="Its color" value={value} onChange={onChange} />}
    </>
  );
}
