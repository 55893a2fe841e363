import { KenosisError } from '../../../../../../core/errors';
import { isOutputFormat, OUTPUT_FORMATS } from '../../../../../../core/formats';
import { checkNumber, guarded } from '../../../../../../server/guard';
import { getHouse } from '../../../../../../server/house';
import { readWait } from '../../../../../../server/http/read-wait';
import { fileOfRun, untilOver } from '../../../../../../server/runs/run-results';
import type { Run } from '../../../../../../storage/runs';
import { sendFile } from '../../../../../../server/send-file';

interface Context {
  readonly params: Promise<{ run: string; number: string }>;
}

export const dynamic = 'force-dynamic';

/**
 * A file that a run delivered, by its place; `?wait=60` waits until the run is over, so many seconds at most. While it is worked on it
 * answers 202 and how far the run is, or 406 to whoever accepts pictures only.
 */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const { run: id, number } = await params;
  const run = await untilOver(house, checkNumber('run', id), readWait(request), request.signal);
  const file = await fileOfRun(house, run, checkNumber('file', number));
  if (!file) return notYet(request, run);
  const { name, delivery } = file;
  return sendFile(house.files.pathOf('deliveries', delivery.sha256), {
    type: isOutputFormat(delivery.format) ? OUTPUT_FORMATS[delivery.format].mime : 'application/octet-stream',
    cache: 'private, no-cache',
    attachment: name,
  });
});

function notYet(request: Request, { id, state, counts }: Run): Response {
  const accepted = request.headers.get('accept') ?? '*/*';
  if (!/\*\/\*|application\/(json|\*)/.test(accepted))
    throw new KenosisError(
      'not-ready',
      `Run ${id} is still being worked on. Ask again, or wait longer: ?wait=600.`,
    );
  const headers = { location: `/api/runs/${id}`, 'retry-after': '1' };
  return Response.json({ run: id, state, counts }, { status: 202, headers });
}
