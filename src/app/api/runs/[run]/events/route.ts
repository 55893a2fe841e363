import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { runEvents } from '../../../../../server/runs/run-events';
import { getRun } from '../../../../../storage/runs';

interface Context {
  readonly params: Promise<{ run: string }>;
}

export const dynamic = 'force-dynamic';

/** What happens in a run, as server-sent events, until nobody listens any more. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const id = checkNumber('run', (await params).run);
  await getRun(house.database, id);
  return new Response(runEvents(house, id, request.signal), {
    headers: {
      'content-type': 'text/event-stream',
      // Whatever would pack the answer would hold events back.
      'cache-control': 'no-store, no-transform',
    },
  });
});
