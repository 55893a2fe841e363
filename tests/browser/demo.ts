import { cp } from 'node:fs/promises';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { inject } from 'vitest';
import { SMALL_DEMO } from '../make/small-demo';
import { onSheet } from './browser';
import { startServer, type TestServer } from './server';

/** The path of a demo picture at half its size. */
export function demoPicture(file: string): string {
  return path.join(SMALL_DEMO, file);
}

/** Starts a server on a copy of the house that holds the small demo pieces. */
export async function startDemo(dataFolder: string): Promise<TestServer> {
  await cp(inject('smallHouse'), dataFolder, { recursive: true });
  return startServer(dataFolder, { demo: true });
}

/** Where pixels of a demo picture lie on its sheet, told at the size that it was drawn at; both even. */
export function onDemoSheet(
  page: Page,
  drawn: { readonly width: number; readonly height: number },
  places: readonly (readonly [number, number])[],
): Promise<(readonly [number, number])[]> {
  const small = { width: drawn.width / 2, height: drawn.height / 2 };
  return onSheet(
    page,
    small,
    places.map(([x, y]) => [Math.floor(x / 2), Math.floor(y / 2)] as const),
  );
}
