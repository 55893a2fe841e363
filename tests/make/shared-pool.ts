import { afterAll, beforeAll } from 'vitest';
import { createCorePool, type CorePool } from '../../src/engine/node/pool';

/** Threads for the houses of a test file: each house with its own would begin cold. */
export function sharedPool(): { readonly pool: CorePool } {
  const shared = {} as { pool: CorePool };
  beforeAll(() => {
    shared.pool = createCorePool(2);
  });
  afterAll(() => shared.pool.close());
  return shared;
}
