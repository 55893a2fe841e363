import { getHouse } from '../../server/house';
import { groundsOf, piecesOf } from '../../server/proofs/open-proof';
import { listProofs } from '../../storage/proofs';
import { ProofsScreen } from '../../ui/proofs/ProofsScreen';

export const dynamic = 'force-dynamic';

export default async function ProofsPage() {
  const house = await getHouse();
  const cards = await Promise.all(
    (await listProofs(house.database)).map(async (entry) => ({
      entry,
      grounds: await groundsOf(house, entry.proof),
      pieces: await piecesOf(house, entry.proof),
    })),
  );
  return <ProofsScreen cards={cards} />;
}
