import { NumberInput, type NumberInputProps } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';

interface Props extends Pick<
  NumberInputProps,
  'label' | 'aria-label' | 'description' | 'suffix' | 'className' | 'id' | 'decimalScale'
> {
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step?: number;
  /** Called while somebody types or steps, with values in range only. */
  readonly onDraft?: (value: number) => void;
  /** Called once when the value rests: on leaving the field, on Enter, or a moment after the last step. */
  readonly onCommit: (value: number) => void;
}

/** How long the field waits for more before it commits. */
const REST_MS = 700;

/** A typed number. What is out of range is brought to the nearest limit when the field is left. */
export function NumberField({ value, min, max, onDraft, onCommit, ...rest }: Props) {
  const [typed, setTyped] = useState<string | number | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);

  const commit = (raw: string | number | null) => {
    clearTimeout(timer.current);
    setTyped(null);
    const number = typeof raw === 'string' ? Number.parseFloat(raw) : raw;
    if (number !== null && Number.isFinite(number)) onCommit(Math.min(max, Math.max(min, number)));
  };
  const change = (raw: string | number) => {
    setTyped(raw);
    clearTimeout(timer.current);
    if (typeof raw !== 'number' || raw < min || raw > max) return;
    onDraft?.(raw);
    timer.current = setTimeout(() => commit(raw), REST_MS);
  };
  return (
    <NumberInput
      {...rest}
      value={typed ?? value}
      min={min}
      max={max}
      clampBehavior="none"
      onChange={change}
      onBlur={() => commit(typed)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit(typed);
        if (event.key === 'Escape') commit(value);
      }}
    />
  );
}
