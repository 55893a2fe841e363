import { Button, Popover, UnstyledButton } from '@mantine/core';
import { IconCheck } from '@tabler/icons-react';
import type { Comparing, Shown } from '../../bench/bench-state';
import { useBench, useBenchActions } from './bench-context';
import classes from './bench.module.css';

const SHOWN: readonly (readonly [Shown, string, string])[] = [
  ['result', 'Result', ''],
  ['alpha', 'Alpha', 'A'],
  ['faint', 'Alpha, faint parts raised', 'Shift A'],
  ['edge', 'Edge alone', 'E'],
  ['difference', 'What was taken', 'D'],
];

const COMPARED: readonly (readonly [Exclude<Comparing, 'none'>, string, string])[] = [
  ['wipe', 'Original under a line', 'W'],
  ['beside', 'Original beside it', 'Y'],
];

/** What the sheet shows, and what it is compared with. */
export function ViewMenu() {
  const shown = useBench((state) => state.shown);
  const comparing = useBench((state) => state.comparing);
  const loupe = useBench((state) => state.loupe);
  const prepares = useBench((state) => state.stage === 'prepare');
  const actions = useBenchActions();
  const changed = shown !== 'result' || comparing !== 'none';
  return (
    <Popover
      position="bottom-end"
      width={260}
      shadow="none"
      transitionProps={{ duration: 80 }}
      returnFocus
      trapFocus
    >
      <Popover.Target>
        <Button size="xs" variant="default" data-on={changed || undefined} className={classes.viewButton}>
          View
        </Button>
      </Popover.Target>
      <Popover.Dropdown p={4}>
        <span className={classes.viewLabel}>The sheet shows</span>
        {SHOWN.map(([value, words, key]) => (
          <Choice
            key={value}
            words={words}
            shortcut={key}
            on={shown === value}
            onChoose={() => actions.setShown(value)}
          />
        ))}
        <span className={classes.viewLabel}>Compare</span>
        {COMPARED.map(([value, words, key]) => (
          <Choice
            key={value}
            words={words}
            shortcut={key}
            on={comparing === value}
            disabled={prepares}
            onChoose={() => actions.toggleComparing(value)}
          />
        ))}
        <Choice words="Loupe" shortcut="G" on={loupe} onChoose={actions.toggleLoupe} />
      </Popover.Dropdown>
    </Popover>
  );
}

interface ChoiceProps {
  readonly words: string;
  readonly shortcut: string;
  readonly on: boolean;
  readonly disabled?: boolean;
  readonly onChoose: () => void;
}

function Choice({ words, shortcut, on, disabled = false, onChoose }: ChoiceProps) {
  return (
    <UnstyledButton className={classes.viewChoice} aria-pressed={on} disabled={disabled} onClick={onChoose}>
      <IconCheck size={14} stroke={2} opacity={on ? 1 : 0} aria-hidden="true" />
      <span>{words}</span>
      <span className={classes.shortcut} aria-hidden="true">
        {shortcut}
      </span>
    </UnstyledButton>
  );
}
