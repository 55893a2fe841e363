import { deleteTrashed } from '../storage/pieces';
import type { House } from './house';

/** Deletes for good what is in the trash: rows first, then the files that nothing else names. Returns how many pieces went. */
export async function emptyTrash(house: House): Promise<number> {
  const { originals, deliveries } = await deleteTrashed(house.database);
  for (const key of originals) await house.files.remove('originals', key);
  for (const key of deliveries) await house.files.remove('deliveries', key);
  return originals.length;
}
