import { deliveriesInUse } from '../storage/deliveries';
import { originalsInUse, pieceIds } from '../storage/pieces';
import { groundsInUse } from '../storage/proofs';
import { getSetting } from '../storage/settings';
import { fontsInUse } from '../storage/watermarks';
import type { House } from './rooms';
import { materialsInUse } from './watermarks/materials';

/** When pieces were rebuilt last: what is older belonged to the database before, and is never set aside. */
export const REBUILT_AT = 'rebuilt-at';

/**
 * Sets aside files that no row names, as a kill between writing a file and its row leaves them, and clears what was set
 * aside long enough ago. Does nothing while there are no pieces: a database that names nothing proves nothing.
 */
export async function setAsideUnnamed({ database, files }: Pick<House, 'database' | 'files'>): Promise<void> {
  const ids = await pieceIds(database);
  if (ids.size === 0) return;
  const since = new Date((await getSetting(database, REBUILT_AT)) ?? 0);
  const [originals, deliveries] = await Promise.all([originalsInUse(database), deliveriesInUse(database)]);
  await files.setAside('originals', (key) => originals.has(key), since);
  await files.setAside('deliveries', (key) => deliveries.has(key), since);
  const grounds = await groundsInUse(database);
  await files.setAside('grounds', (key) => grounds.has(key), since);
  const fonts = await fontsInUse(database);
  await files.setAside('fonts', (key) => fonts.has(key), since);
  const materials = await materialsInUse(database);
  await files.setAside('materials', (key) => materials.has(key), since);
  // Those of before thumbnails carried the time of their import are named by nothing any more.
  const isShown = (key: string) => ids.has(key.slice(0, 16)) && key.split('-').length === 3;
  await files.setAside('thumbnails', isShown, since);
  await files.setAside('decisions', (key) => ids.has(key.slice(0, 16)), since);
  await files.clearQuarantine();
}
