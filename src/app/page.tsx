import { Shelf } from '../ui/shelf/Shelf';
import { getHouse } from '../server/house';
import { listPieces } from '../storage/pieces';

export const dynamic = 'force-dynamic';

export default async function ShelfPage() {
  const { database, files, notices, isRecovering } = await getHouse();
  const [pieces, trash, quarantine] = await Promise.all([
    listPieces(database),
    listPieces(database, 'trash'),
    files.quarantined(),
  ]);
  return (
    <Shelf
      pieces={pieces}
      trash={trash}
      quarantine={quarantine}
      notices={notices}
      recovering={isRecovering()}
    />
  );
}
