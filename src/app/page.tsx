import { Shelf } from '../ui/shelf/Shelf';
import { getHouse } from '../server/house';
import { listPieces } from '../storage/pieces';

export const dynamic = 'force-dynamic';

export default async function ShelfPage() {
  const { database } = await getHouse();
  const [pieces, trash] = await Promise.all([listPieces(database), listPieces(database, 'trash')]);
  return <Shelf pieces={pieces} trash={trash} />;
}
