import contentDisposition from 'content-disposition';
import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { readWait } from '../../../../../server/http/read-wait';
import { untilOver, zipOfRun } from '../../../../../server/runs/run-results';

interface Context {
  readonly params: Promise<{ run: string }>;
}

export const dynamic = 'force-dynamic';

/** What a run delivered, with its report, as one ZIP; `?wait=60` waits until it is over, so many seconds at most. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const id = checkNumber('run', (await params).run);
  const { name } = await untilOver(house, id, readWait(request), request.signal);
  return new Response(await zipOfRun(house, id), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': contentDisposition(`${name}-${id}.zip`),
      'cache-control': 'no-store',
    },
  });
});
