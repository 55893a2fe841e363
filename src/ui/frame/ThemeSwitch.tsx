'use client';

import { ActionIcon, Tooltip, useMantineColorScheme } from '@mantine/core';
import { IconMoon, IconSun } from '@tabler/icons-react';
import classes from './frame.module.css';

/** Daylight or dusk. */
export function ThemeSwitch() {
  const { toggleColorScheme } = useMantineColorScheme();
  return (
    <Tooltip label="Daylight or dusk">
      <ActionIcon aria-label="Switch between daylight and dusk" onClick={() => toggleColorScheme()}>
        <IconSun className={classes.onlyDusk} size={18} stroke={1.6} />
        <IconMoon className={classes.onlyDaylight} size={18} stroke={1.6} />
      </ActionIcon>
    </Tooltip>
  );
}
