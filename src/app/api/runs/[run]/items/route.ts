import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { listItems } from '../../../../../storage/runs';

interface Context {
  readonly params: Promise<{ run: string }>;
}

export const dynamic = 'force-dynamic';

/** The pictures of a run, in order. */
export const GET = guarded(async (_request, { params }: Context) => {
  const { database } = await getHouse();
  return Response.json({ items: await listItems(database, checkNumber('run', (await params).run)) });
});
