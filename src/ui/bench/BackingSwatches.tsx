import { ColorPicker, Popover, TextInput, Tooltip, UnstyledButton } from '@mantine/core';
import { IconColorPicker, IconContrast2 } from '@tabler/icons-react';
import { useState } from 'react';
import { BACKINGS, isBacking, pieceOfBacking } from '../../core/view/backing';
import { backingStyle } from '../backing-style';
import { fittingBacking } from '../../core/view/fitting-backing';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';
import { PictureBacking } from './PictureBacking';

/** What the cutout is shown on. */
export function BackingSwatches() {
  const backing = useBench((state) => state.backing);
  const actions = useBenchActions();
  const contrast = useBench((state) => state.checked?.contrast ?? null);
  const isPicture = pieceOfBacking(backing) !== null;
  const own = backing !== contrast && !isPicture && !BACKINGS.some(({ value }) => value === backing);
  return (
    <div className={classes.swatches} role="radiogroup" aria-label="Backing">
      {BACKINGS.map(({ value, name }) => (
        <Tooltip key={value} label={`${name} (K steps on)`}>
          <UnstyledButton
            role="radio"
            aria-checked={backing === value}
            aria-label={`${name} backing`}
            className={classes.swatch}
            style={backingStyle(value, 5)}
            onClick={() => actions.setBacking(value)}
          />
        </Tooltip>
      ))}
      <ContrastSwatch
        color={contrast}
        chosen={backing === contrast && !BACKINGS.some(({ value }) => value === contrast)}
        onChoose={actions.setBacking}
      />
      <OwnColor chosen={own} color={own ? backing : '#4a90a4'} onChoose={actions.setBacking} />
      <PictureBacking chosen={isPicture} />
    </div>
  );
}

interface ContrastSwatchProps {
  readonly color: string | null;
  readonly chosen: boolean;
  readonly onChoose: (color: string) => void;
}

/** What differs most from the edge; its place is there before the color is known, so that its neighbors never move. */
function ContrastSwatch({ color, chosen, onChoose }: ContrastSwatchProps) {
  const label =
    color === null
      ? 'What differs most from this edge: known after the checks'
      : `What differs most from this edge: ${color} (K steps on)`;
  return (
    <Tooltip label={label}>
      <UnstyledButton
        role="radio"
        aria-checked={chosen}
        aria-disabled={color === null}
        aria-label="Contrasting backing"
        className={classes.swatch}
        style={color === null ? undefined : backingStyle(color)}
        onClick={() => {
          if (color !== null) onChoose(color);
        }}
      >
        <IconContrast2
          size={14}
          stroke={1.7}
          color={color === null ? undefined : inkOn(color)}
          aria-hidden="true"
        />
      </UnstyledButton>
    </Tooltip>
  );
}

/** Light on dark colors, dark on light ones. */
function inkOn(color: string): string {
  return fittingBacking(color) === '#2b2b2b' ? '#1c1c1c' : '#f4f4f4';
}

interface OwnColorProps {
  readonly chosen: boolean;
  readonly color: string;
  readonly onChoose: (color: string) => void;
}

function OwnColor({ chosen, color, onChoose }: OwnColorProps) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <Popover opened={open} onChange={setOpen} position="bottom" trapFocus returnFocus>
      <Popover.Target>
        <Tooltip label="Any color" disabled={open}>
          <UnstyledButton
            role="radio"
            aria-checked={chosen}
            aria-label="Backing of any color"
            className={classes.swatch}
            style={chosen ? { background: color } : undefined}
            onClick={() => setOpen((is) => !is)}
          >
            {!chosen && <IconColorPicker size={14} stroke={1.7} aria-hidden="true" />}
          </UnstyledButton>
        </Tooltip>
      </Popover.Target>
      <Popover.Dropdown p="xs">
        <ColorPicker format="hex" value={color} onChange={onChoose} size="sm" aria-label="Backing color" />
        <TextInput
          mt={8}
          label="Color"
          value={typed ?? color}
          error={typed !== null && !/^#[0-9a-f]{6}$/i.test(typed) ? 'Type it like #ff00ff' : null}
          onChange={({ currentTarget: { value } }) => {
            setTyped(value);
            if (value.startsWith('#') && isBacking(value.toLowerCase())) onChoose(value.toLowerCase());
          }}
          onBlur={() => setTyped(null)}
        />
      </Popover.Dropdown>
    </Popover>
  );
}
