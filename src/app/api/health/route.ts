import { guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';

export const dynamic = 'force-dynamic';

/** Says that Kenosis runs here and has its data open. */
export const GET = guarded(async () => {
  const { dataFolder } = await getHouse();
  return Response.json({ product: 'kenosis', dataFolder });
});
