import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { runRequestSchema } from '../../../server/http/requests';
import { beginRun } from '../../../server/runs/begin-run';
import { listRuns } from '../../../storage/runs';

export const dynamic = 'force-dynamic';

/** All runs, newest first. */
export const GET = guarded(async () => Response.json({ runs: await listRuns((await getHouse()).database) }));

/** Begins a run; it is asked about under the address that is answered. */
export const POST = guarded(async (request) => {
  const house = await getHouse();
  const run = await beginRun(house, await readBody(request, runRequestSchema));
  return Response.json({ run }, { status: 202, headers: { location: `/api/runs/${run.id}` } });
});
