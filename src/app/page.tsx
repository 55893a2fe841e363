import { Shelf } from '../ui/shelf/Shelf';
import { getHouse } from '../server/house';
import { listPieces } from '../storage/pieces';

export const dynamic = 'force-dynamic';

export default async function ShelfPage() {
  const house = await getHouse();
  return <Shelf pieces={await listPieces(house.database)} />;
}
