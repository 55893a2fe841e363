import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll } from 'vitest';

/** A fresh folder that is removed when the test file ends. */
export async function freshFolder(): Promise<string> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-test-'));
  afterAll(() => rm(folder, { recursive: true, force: true }));
  return folder;
}
