import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { watchRequestSchema } from '../../../server/http/requests';
import { routineOf } from '../../../server/runs/begin-run';
import { keptRoutine } from '../../../server/watermarks/materials';

export const dynamic = 'force-dynamic';

/** The watched folders, and what became of their files. */
export const GET = guarded(async () => Response.json({ watches: await (await getHouse()).watches.list() }));

/** Watches another folder. */
export const POST = guarded(async (request) => {
  const house = await getHouse();
  const { routine, ...folders } = await readBody(request, watchRequestSchema);
  await house.watches.add({ ...folders, routine: await keptRoutine(house, await routineOf(house, routine)) });
  return Response.json({ watches: await house.watches.list() }, { status: 201 });
});
