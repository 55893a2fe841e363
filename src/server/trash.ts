import { isDelivered } from '../storage/deliveries';
import { deleteTrashed, listPieces, originalsInUse } from '../storage/pieces';
import type { House } from './rooms';

/**
 * Deletes for good what is in the trash, piece by piece: rows first, then the files that nothing else names. Bytes of a
 * piece that are on their way in meanwhile come before or after it, never between. Returns how many pieces went.
 */
export async function emptyTrash(house: House): Promise<number> {
  let deleted = 0;
  for (const { id, sha256 } of await listPieces(house.database, 'trash'))
    if (await house.locks.acquire(sha256, () => deleteForGood(house, id, sha256))) deleted++;
  return deleted;
}

async function deleteForGood({ database, files, locks }: House, id: string, sha256: string) {
  const deliveries = await deleteTrashed(database, id);
  if (!deliveries) return false;
  // Further pieces of the same original may still stand on it.
  if (!(await originalsInUse(database)).has(sha256)) await files.remove('originals', sha256);
  await files.removeOf('thumbnails', id);
  await files.removeOf('cutouts', id);
  await files.removeOf('decisions', id);
  for (const key of deliveries)
    await locks.acquire(`delivery ${key}`, async () => {
      if (!(await isDelivered(database, key))) await files.remove('deliveries', key);
    });
  return true;
}
