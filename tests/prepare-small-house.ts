import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { renderAhead } from '../src/server/check-pieces';
import { loadDemo } from '../src/server/demo-pieces';
import { openHouse } from '../src/server/house';
import { SMALL_DEMO } from './make/small-demo';

declare module 'vitest' {
  interface ProvidedContext {
    /** A data folder that holds the small demo pieces with their cutouts; to be copied. */
    readonly smallHouse: string;
  }
}

/** Lays the small demo pieces on a shelf and renders them, once for all files. */
export async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-small-demo-'));
  const house = await openHouse(folder);
  await loadDemo(house, 'pieces', SMALL_DEMO);
  await renderAhead(house);
  await house.close();
  project.provide('smallHouse', folder);
  return () => rm(folder, { recursive: true, force: true });
}
