import { ColorPicker, Popover, TextInput, Tooltip, UnstyledButton } from '@mantine/core';
import { IconColorPicker } from '@tabler/icons-react';
import { useState } from 'react';
import { BACKINGS, isBacking } from '../../core/view/backing';
import { backingStyle } from '../backing-style';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

/** What the cutout is shown on. */
export function BackingSwatches() {
  const backing = useBench((state) => state.backing);
  const actions = useBenchActions();
  const own = !BACKINGS.some(({ value }) => value === backing);
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
      <OwnColor chosen={own} color={own ? backing : '#4a90a4'} onChoose={actions.setBacking} />
    </div>
  );
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
          error={typed !== null && !isBacking(typed.toLowerCase()) ? 'Type it like #ff00ff' : null}
          onChange={({ currentTarget: { value } }) => {
            setTyped(value);
            if (value !== 'checker' && isBacking(value.toLowerCase())) onChoose(value.toLowerCase());
          }}
          onBlur={() => setTyped(null)}
        />
      </Popover.Dropdown>
    </Popover>
  );
}
