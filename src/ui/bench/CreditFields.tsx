import { TextInput } from '@mantine/core';
import { useState } from 'react';
import { LONGEST_CREDIT, type Credit } from '../../core/stages/deliver/settings';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const LINES: readonly { readonly key: keyof Credit; readonly label: string }[] = [
  { key: 'author', label: 'Author' },
  { key: 'copyright', label: 'Copyright' },
  { key: 'description', label: 'Description' },
];

/** What is written into files of whom they are. Place and camera of the original never are. */
export function CreditFields() {
  const credit = useBench((state) => state.cut.deliver.credit);
  const actions = useBenchActions();
  const said = LINES.filter(({ key }) => credit[key] !== '').length;
  return (
    <details className={classes.credit} open={said > 0}>
      <summary>Written into the file</summary>
      {LINES.map(({ key, label }) => (
        <Line
          key={key}
          label={label}
          value={credit[key]}
          onCommit={(text) => actions.change('deliver', { credit: { ...credit, [key]: text } })}
        />
      ))}
      <p className={classes.soft}>
        PNG, WebP, AVIF, TIFF, JPEG, PDF and SVG can hold it. Where and with what the original was taken is
        never written.
      </p>
    </details>
  );
}

function Line({
  label,
  value,
  onCommit,
}: {
  readonly label: string;
  readonly value: string;
  readonly onCommit: (text: string) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    if (typed !== null && typed.trim() !== value) onCommit(typed.trim());
    setTyped(null);
  };
  return (
    <TextInput
      size="xs"
      label={label}
      maxLength={LONGEST_CREDIT}
      value={typed ?? value}
      onChange={({ currentTarget }) => setTyped(currentTarget.value)}
      onBlur={commit}
      onKeyDown={(event) => {
        if (event.key === 'Enter') commit();
        if (event.key === 'Escape') setTyped(null);
      }}
    />
  );
}
