import type { Proof } from '../../core/proof/settings';
import { getHouse } from '../../server/house';
import type { House } from '../../server/rooms';
import { groundsOf, piecesOf } from '../../server/proofs/open-proof';
import { listProofs } from '../../storage/proofs';
import { unreadableRows } from '../../storage/unreadable';
import { GROUNDS_ON_CARD } from '../../ui/proofs/card';
import { ProofsScreen } from '../../ui/proofs/ProofsScreen';

export const dynamic = 'force-dynamic';

export default async function ProofsPage() {
  const house = await getHouse();
  const cards = await Promise.all(
    (await listProofs(house.database)).map(async (entry) => ({
      entry,
      ...(await shownOf(house, entry.proof)),
    })),
  );
  return <ProofsScreen cards={cards} unreadable={await unreadableRows(house.database, ['proof'])} />;
}

/** What a card shows of a proof: its first grounds, and the pieces on them. */
async function shownOf(house: House, { grounds, ...proof }: Proof) {
  const shown = { ...proof, grounds: grounds.slice(0, GROUNDS_ON_CARD) };
  return { grounds: await groundsOf(house, shown), pieces: await piecesOf(house, shown) };
}
