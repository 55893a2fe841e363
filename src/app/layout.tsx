import '@fontsource-variable/commissioner';
import '@mantine/core/styles.css';
import '@mantine/dropzone/styles.css';
import '@mantine/notifications/styles.css';
import '../ui/global.css';
import { ColorSchemeScript, mantineHtmlProps } from '@mantine/core';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Frame } from '../ui/frame/Frame';

export const metadata: Metadata = {
  title: 'Kenosis',
  description: 'Takes the background off logos, signatures and photos.',
};

export default async function Layout({ children }: { readonly children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? '';
  return (
    <html lang="en" {...mantineHtmlProps}>
      <head>
        <ColorSchemeScript nonce={nonce} defaultColorScheme="light" />
      </head>
      <body>
        <Frame nonce={nonce}>{children}</Frame>
      </body>
    </html>
  );
}
