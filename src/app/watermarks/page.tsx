import { getHouse } from '../../server/house';
import { knownPieces } from '../../server/proofs/open-proof';
import { pieceIdsOf } from '../../server/watermarks/open-watermark';
import { listWatermarks } from '../../storage/watermarks';
import { unreadableRows } from '../../storage/unreadable';
import { WatermarksScreen } from '../../ui/watermarks/WatermarksScreen';

export const dynamic = 'force-dynamic';

export default async function WatermarksPage() {
  const house = await getHouse();
  const entries = await listWatermarks(house.database);
  const pieces = await knownPieces(
    house,
    entries.flatMap(({ watermark }) => pieceIdsOf(watermark)),
  );
  const unreadable = await unreadableRows(house.database, ['watermark']);
  return <WatermarksScreen entries={entries} pieces={pieces} unreadable={unreadable} />;
}
