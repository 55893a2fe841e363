import { Button, ColorInput } from '@mantine/core';
import { useState } from 'react';
import { ANGLE_DEG, type GroundSource } from '../../core/proof/settings';
import { NumberField } from '../bench/NumberField';
import { useProofActions } from './proof-context';
import classes from './proofs.module.css';

type ColorSource = Extract<GroundSource, { kind: 'color' }>;

/** The color of a ground, or its two colors and where the one goes over into the other. */
export function ColorGround({ id, source }: { readonly id: string; readonly source: ColorSource }) {
  const actions = useProofActions();
  const change = (part: Partial<ColorSource>) => void actions.changeSource(id, { ...source, ...part });
  return (
    <>
      <div className={classes.fields}>
        <ColorField
          key={`from ${source.from}`}
          label="Color"
          value={source.from}
          onCommit={(from) => change({ from })}
        />
        {source.to === null ? (
          <Button
            className={classes.below}
            size="xs"
            variant="default"
            onClick={() => change({ to: '#ffffff' })}
          >
            Gradient
          </Button>
        ) : (
          <ColorField
            key={`to ${source.to}`}
            label="Other end"
            value={source.to}
            onCommit={(to) => change({ to })}
          />
        )}
      </div>
      {source.to !== null && (
        <div className={classes.fields}>
          <NumberField
            label="Toward"
            value={source.angleDeg}
            min={ANGLE_DEG.min}
            max={ANGLE_DEG.max}
            suffix="°"
            decimalScale={0}
            onCommit={(angleDeg) => change({ angleDeg })}
          />
          <Button className={classes.below} size="xs" variant="default" onClick={() => change({ to: null })}>
            One color
          </Button>
        </div>
      )}
    </>
  );
}

/** A color that counts when it is chosen, not on the way there. */
function ColorField({
  label,
  value,
  onCommit,
}: {
  readonly label: string;
  readonly value: string;
  readonly onCommit: (color: string) => void;
}) {
  const [typed, setTyped] = useState(value);
  return (
    <ColorInput
      label={label}
      size="xs"
      withEyeDropper={false}
      value={typed}
      onChange={setTyped}
      onChangeEnd={(color) => {
        if (/^#[0-9a-f]{6}$/.test(color) && color !== value) onCommit(color);
      }}
    />
  );
}
