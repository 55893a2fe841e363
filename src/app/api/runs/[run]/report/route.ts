import contentDisposition from 'content-disposition';
import { badArgument } from '../../../../../core/errors';
import { checkNumber, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { reportCsv, reportJson } from '../../../../../server/runs/report';
import { rowsOfRun } from '../../../../../server/runs/run-results';
import { getRun } from '../../../../../storage/runs';

interface Context {
  readonly params: Promise<{ run: string }>;
}

export const dynamic = 'force-dynamic';

/** What became of each picture of a run, as `?as=json` or `?as=csv`. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const id = checkNumber('run', (await params).run);
  const as = new URL(request.url).searchParams.get('as') ?? 'json';
  if (as !== 'json' && as !== 'csv') throw badArgument('as', 'json or csv', as);
  const { routine } = await getRun(house.database, id);
  const rows = await rowsOfRun(house, id);
  return new Response(as === 'csv' ? reportCsv(rows) : reportJson(routine.name, rows), {
    headers: {
      'content-type': as === 'csv' ? 'text/csv; charset=utf-8' : 'application/json',
      'content-disposition': contentDisposition(`${routine.name}-${id}.${as}`),
      'cache-control': 'no-store',
    },
  });
});
