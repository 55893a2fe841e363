import { checkPieces, isToBeChecked } from '../../../server/check-pieces';
import { guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { listPieces } from '../../../storage/pieces';

export const dynamic = 'force-dynamic';

/** How many findings each piece on the Shelf has, as far as they were checked; starts checking what was not. */
export const GET = guarded(async () => {
  const house = await getHouse();
  const pieces = await listPieces(house.database);
  const checking = pieces.some(isToBeChecked);
  if (checking) void checkPieces(house);
  const found = pieces.map(({ id, revision, findings }) => ({ id, revision, findings }));
  return Response.json({ pieces: found, checking });
});
