import { SegmentedControl, Select, Switch } from '@mantine/core';
import { useState } from 'react';
import { layOut } from '../../core/stages/deliver/layout';
import {
  ANCHORS,
  OUTPUT_DPI,
  OUTPUT_MM,
  PADDING,
  SCALE,
  SIZE_PX,
  type Kernel,
  type Output,
  type Padding,
  type Target,
} from '../../core/stages/deliver/output-settings';
import { deliveredDpi } from '../../core/stages/deliver/print';
import { formatNumber } from '../format';
import { useBench } from './bench-context';
import classes from './bench.module.css';
import { NumberField } from './NumberField';

interface Props {
  readonly output: Output;
  readonly onChange: (output: Output) => void;
}

const TARGETS: readonly { readonly value: Target['kind']; readonly label: string }[] = [
  { value: 'own', label: 'As large as it is' },
  { value: 'scale', label: 'Scaled' },
  { value: 'width', label: 'So wide' },
  { value: 'height', label: 'So high' },
  { value: 'canvas', label: 'On an exact canvas' },
  { value: 'print', label: 'So large on paper' },
];

const KERNELS: readonly { readonly value: Kernel; readonly label: string }[] = [
  { value: 'cubic', label: 'Cubic' },
  { value: 'lanczos', label: 'Lanczos' },
  { value: 'box', label: 'Box mean' },
  { value: 'nearest', label: 'Nearest' },
];

/** How large a file is made: trimmed, resized, with room around it. */
export function SizeFields({ output, onChange }: Props) {
  const { size } = output;
  const change = (part: object) => onChange({ ...output, size: { ...size, ...part } } as Output);
  const to: Target | null = 'to' in size ? size.to : null;
  return (
    <>
      {to && <TargetFields to={to} onChange={(next) => change({ to: next })} />}
      <Switch
        label="Trim to the content"
        checked={size.trim}
        onChange={({ currentTarget }) => change({ trim: currentTarget.checked })}
      />
      <PaddingFields padding={size.padding} onChange={(padding) => change({ padding })} />
      {(to === null || to.kind !== 'own') && output.format !== 'svg' && (
        <div className={classes.pair}>
          <Select
            label="Resized by"
            size="xs"
            allowDeselect={false}
            data={KERNELS}
            value={size.kernel}
            onChange={(kernel) => change({ kernel })}
          />
          <Select
            label="Mixed in"
            size="xs"
            allowDeselect={false}
            data={[
              { value: 'linear', label: 'linear light' },
              { value: 'encoded', label: 'encoded values' },
            ]}
            value={size.light}
            onChange={(light) => change({ light })}
          />
        </div>
      )}
      {to && <Outcome output={output} to={to} />}
    </>
  );
}

function startOf(kind: Target['kind'], width: number, height: number): Target {
  switch (kind) {
    case 'own':
      return { kind };
    case 'scale':
      return { kind, factor: 2 };
    case 'width':
      return { kind, px: Math.min(800, width) };
    case 'height':
      return { kind, px: Math.min(800, height) };
    case 'canvas':
      return { kind, widthPx: 2000, heightPx: 2000, anchor: 'center' };
    case 'print':
      return { kind, widthMm: 85, dpi: 300 };
  }
}

function TargetFields({ to, onChange }: { readonly to: Target; readonly onChange: (to: Target) => void }) {
  const { width, height } = useBench((state) => state.output);
  return (
    <>
      <Select
        label="Size"
        size="xs"
        allowDeselect={false}
        data={TARGETS}
        value={to.kind}
        onChange={(kind) => kind && onChange(startOf(kind, width, height))}
      />
      {to.kind === 'scale' && (
        <NumberField
          label="Scale"
          suffix="x"
          decimalScale={2}
          {...SCALE}
          value={to.factor}
          onCommit={(factor) => onChange({ ...to, factor })}
        />
      )}
      {(to.kind === 'width' || to.kind === 'height') && (
        <NumberField
          label={to.kind === 'width' ? 'Width' : 'Height'}
          suffix=" px"
          decimalScale={0}
          {...SIZE_PX}
          value={to.px}
          onCommit={(px) => onChange({ ...to, px: Math.round(px) })}
        />
      )}
      {to.kind === 'canvas' && (
        <>
          <div className={classes.pair}>
            <NumberField
              label="Canvas width"
              suffix=" px"
              decimalScale={0}
              {...SIZE_PX}
              value={to.widthPx}
              onCommit={(widthPx) => onChange({ ...to, widthPx: Math.round(widthPx) })}
            />
            <NumberField
              label="Canvas height"
              suffix=" px"
              decimalScale={0}
              {...SIZE_PX}
              value={to.heightPx}
              onCommit={(heightPx) => onChange({ ...to, heightPx: Math.round(heightPx) })}
            />
          </div>
          <div className={classes.anchors} role="radiogroup" aria-label="Where it lies on the canvas">
            {ANCHORS.map((anchor) => (
              <button
                key={anchor}
                type="button"
                role="radio"
                aria-checked={to.anchor === anchor}
                aria-label={anchor.replace('-', ' ')}
                onClick={() => onChange({ ...to, anchor })}
              />
            ))}
          </div>
        </>
      )}
      {to.kind === 'print' && (
        <div className={classes.pair}>
          <NumberField
            label="Width on paper"
            suffix=" mm"
            decimalScale={1}
            {...OUTPUT_MM}
            value={to.widthMm}
            onCommit={(widthMm) => onChange({ ...to, widthMm })}
          />
          <NumberField
            label="Resolution"
            suffix=" dpi"
            decimalScale={0}
            {...OUTPUT_DPI}
            value={to.dpi}
            onCommit={(dpi) => onChange({ ...to, dpi: Math.round(dpi) })}
          />
        </div>
      )}
    </>
  );
}

function PaddingFields({
  padding,
  onChange,
}: {
  readonly padding: Padding;
  readonly onChange: (padding: Padding) => void;
}) {
  const { top, right, bottom, left, unit } = padding;
  const isEven = top === right && right === bottom && bottom === left;
  const [each, setEach] = useState(!isEven);
  const all = (side: number): Padding => ({ top: side, right: side, bottom: side, left: side, unit });
  const suffix = unit === '%' ? ' %' : ` ${unit}`;
  return (
    <div>
      <div className={classes.paddingRow}>
        {!each && (
          <NumberField
            label="Padding"
            suffix={suffix}
            decimalScale={1}
            {...PADDING}
            value={top}
            onCommit={(side) => onChange(all(side))}
          />
        )}
        <SegmentedControl
          size="xs"
          aria-label="Unit of padding"
          data={['px', 'mm', '%']}
          value={unit}
          onChange={(next) => onChange({ ...padding, unit: next })}
        />
        <Switch
          size="xs"
          label="Each side"
          checked={each}
          onChange={({ currentTarget }) => {
            setEach(currentTarget.checked);
            if (!currentTarget.checked) onChange(all(top));
          }}
        />
      </div>
      {each && (
        <div className={classes.pair}>
          {(['top', 'right', 'bottom', 'left'] as const).map((side) => (
            <NumberField
              key={side}
              label={`Padding ${side}`}
              suffix={suffix}
              decimalScale={1}
              {...PADDING}
              value={padding[side]}
              onCommit={(value) => onChange({ ...padding, [side]: value })}
            />
          ))}
        </div>
      )}
    </div>
  );
}

/** What comes out of it, and where its pixels do not suffice. */
function Outcome({ output, to }: { readonly output: Output; readonly to: Target }) {
  const { width, height } = useBench((state) => state.output);
  const own = useBench((state) => deliveredDpi(state.cut, state.output.width, state.piece.dpi));
  let words: string;
  try {
    const layout = layOut(output.size, to, { width, height, content: null, dpi: own });
    const about = output.size.trim ? 'About ' : '';
    const dpi = layout.dpi ? `, ${formatNumber(layout.dpi, 0)} dpi` : '';
    const larger =
      // How large the content is that a trim leaves is known when it is made.
      layout.scale > 1.005 && output.format !== 'svg' && !output.size.trim
        ? ` Enlarged ${formatNumber(layout.scale, 1)} times: it will look softer.`
        : '';
    words = `${about}${layout.width} x ${layout.height} px${dpi}.${larger}`;
  } catch (error) {
    words = (error as Error).message;
  }
  return <p className={classes.soft}>{words}</p>;
}
