import { ColorInput, Select, Switch } from '@mantine/core';
import {
  ICON_SIDES_PX,
  QUALITY,
  THRESHOLD,
  TRACE_ERROR_PX,
  type Output,
} from '../../core/stages/deliver/output-settings';
import classes from './bench.module.css';
import { NumberField } from './NumberField';
import { SliderField } from './SliderField';

interface Props {
  readonly output: Output;
  readonly onChange: (output: Output) => void;
}

/** What only a format can choose. */
export function OutputFields({ output, onChange }: Props) {
  switch (output.format) {
    case 'webp':
    case 'avif':
      return (
        <>
          <Switch
            label="Every pixel exactly"
            checked={output.quality === null}
            onChange={({ currentTarget }) =>
              onChange({ ...output, quality: currentTarget.checked ? null : 90 })
            }
          />
          {output.quality !== null && (
            <Quality quality={output.quality} onChange={(quality) => onChange({ ...output, quality })} />
          )}
        </>
      );
    case 'jpeg':
      return (
        <>
          <ColorInput
            label="Backing"
            size="xs"
            format="hex"
            value={output.backing}
            onChangeEnd={(backing) => isColor(backing) && onChange({ ...output, backing })}
          />
          <Quality quality={output.quality} onChange={(quality) => onChange({ ...output, quality })} />
        </>
      );
    case 'gif':
      return (
        <>
          <ColorInput
            label="Matte"
            description="What soft edges are mixed with: the color of the page it will lie on"
            size="xs"
            format="hex"
            value={output.matte}
            onChangeEnd={(matte) => isColor(matte) && onChange({ ...output, matte })}
          />
          <SliderField
            label="Alpha threshold"
            {...THRESHOLD}
            step={1}
            value={output.threshold}
            note="From this alpha on a pixel is there"
            onDraft={() => undefined}
            onCommit={(threshold) => onChange({ ...output, threshold: Math.round(threshold) })}
          />
        </>
      );
    case 'tiff':
      return (
        <Select
          label="Compression"
          size="xs"
          allowDeselect={false}
          data={[
            { value: 'deflate', label: 'Deflate: smaller' },
            { value: 'lzw', label: 'LZW: read by older programs too' },
          ]}
          value={output.compression}
          onChange={(value) => onChange({ ...output, compression: value === 'lzw' ? 'lzw' : 'deflate' })}
        />
      );
    case 'svg':
      return (
        <NumberField
          label="Error bound"
          description="How far the outline may lie from the edge it follows"
          suffix=" px"
          decimalScale={2}
          step={0.05}
          {...TRACE_ERROR_PX}
          value={output.errorPx}
          onCommit={(errorPx) => onChange({ ...output, errorPx })}
        />
      );
    case 'ico':
      return (
        <fieldset className={classes.iconSides}>
          <legend>Squares</legend>
          {ICON_SIDES_PX.map((side) => (
            <label key={side}>
              <input
                type="checkbox"
                checked={output.sidesPx.includes(side)}
                disabled={output.sidesPx.length === 1 && output.sidesPx.includes(side)}
                onChange={({ currentTarget }) =>
                  onChange({
                    ...output,
                    sidesPx: ICON_SIDES_PX.filter((one) =>
                      one === side ? currentTarget.checked : output.sidesPx.includes(one),
                    ),
                  })
                }
              />
              {side}
            </label>
          ))}
        </fieldset>
      );
    default:
      return null;
  }
}

function isColor(text: string): boolean {
  return /^#[0-9a-f]{6}$/.test(text);
}

function Quality({
  quality,
  onChange,
}: {
  readonly quality: number;
  readonly onChange: (quality: number) => void;
}) {
  return (
    <SliderField
      label="Quality"
      {...QUALITY}
      step={1}
      value={quality}
      onDraft={() => undefined}
      onCommit={(value) => onChange(Math.round(value))}
    />
  );
}
