'use client';

import { MantineProvider } from '@mantine/core';
import { Notifications } from '@mantine/notifications';
import type { ReactNode } from 'react';
import { theme } from '../theme';

/** What stands around every screen. */
export function Frame({ nonce, children }: { readonly nonce: string; readonly children: ReactNode }) {
  return (
    <MantineProvider theme={theme} defaultColorScheme="light" getStyleNonce={() => nonce}>
      <Notifications position="bottom-right" />
      {children}
    </MantineProvider>
  );
}
