import { mkdtemp, rm } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { types } from 'node:util';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ONLY_PAGE } from '../../core/cut/page';
import { createCorePool, type CorePool } from './pool';

let folder: string;
let pool: CorePool;

beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kenosis-pool-'));
  pool = createCorePool(2);
});

afterAll(async () => {
  await pool.close();
  await rm(folder, { recursive: true, force: true });
});

const look = (name: string, signal?: AbortSignal) =>
  pool.run(
    'look',
    {
      path: `demo/pictures/${name}`,
      name,
      page: ONLY_PAGE,
      damaged: 'refuse',
      thumbnailPath: null,
      proposes: true,
    },
    { signal, pixels: 1e6 },
  );

it('goes on with what waits after all that ran was ended', async () => {
  // Threads that run already begin at once.
  await Promise.all([look('ostrel-emblem.png'), look('ostrel-emblem.png')]);
  const left = new AbortController();
  const ended = [look('ostrel-spool.jpg', left.signal), look('ostrel-letter.png', left.signal)];
  // Both threads have something to do when the third comes.
  const waits = look('ostrel-emblem.png');
  left.abort();
  for (const one of ended) await expect(one).rejects.toMatchObject({ code: 'aborted' });
  const { cut } = await waits;
  expect(cut).not.toBeNull();
}, 60_000);

it('has threads whose entry is no ES module, which must not be required while its thread may end', () => {
  const entry: unknown = createRequire(import.meta.url)(path.resolve('dist/core-thread.cjs'));
  expect(types.isModuleNamespaceObject(entry)).toBe(false);
  expect(entry).toHaveProperty('default');
});
