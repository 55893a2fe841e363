import path from 'node:path';
import { createCorePool, type CorePool } from '../engine/node/pool';
import { openDatabase, type Database } from '../storage/database';
import { deliveriesInUse } from '../storage/deliveries';
import { openFileStore, type FileStore } from '../storage/file-store';
import { originalsInUse } from '../storage/pieces';

/** Everything the use cases work with. One for each process. */
export interface House {
  readonly dataFolder: string;
  readonly database: Database;
  readonly files: FileStore;
  readonly pool: CorePool;
}

const held = globalThis as { kenosisHouse?: Promise<House> };

/** The house of this process, opened at the first call. */
export function getHouse(): Promise<House> {
  held.kenosisHouse ??= openHouse(dataFolder());
  return held.kenosisHouse;
}

/** Opens the data folder: files, database, worker threads; then removes files that a killed process left unnamed. */
export async function openHouse(folder: string): Promise<House> {
  const files = await openFileStore(folder);
  const database = await openDatabase(folder);
  const originals = await originalsInUse(database);
  await files.sweep('originals', (key) => originals.has(key));
  const deliveries = await deliveriesInUse(database);
  await files.sweep('deliveries', (key) => deliveries.has(key));
  return { dataFolder: folder, database, files, pool: createCorePool(2) };
}

function dataFolder(): string {
  return path.resolve(/*turbopackIgnore: true*/ process.env.KENOSIS_DATA ?? 'data');
}
