import { getDelivery } from '../storage/deliveries';
import { keptPicture } from './proofs/ground-files';
import type { House } from './rooms';

/** The longer side of the small picture of a delivered file. */
const SMALL_PX = 420;

/** A small picture of a delivered file (WebP), kept for a while. Throws `not-found`. */
export async function smallDelivery(house: House, number: number, signal: AbortSignal): Promise<Buffer> {
  const { sha256, width, height } = await getDelivery(house.database, number);
  const path = house.files.pathOf('deliveries', sha256);
  const made = await keptPicture(house, `delivery ${sha256}`, (outPath) =>
    house.pool.run('small', { path, mostPx: SMALL_PX, outPath }, { signal, pixels: width * height }),
  );
  return made.bytes;
}
