import { isOutputFormat, OUTPUT_FORMATS } from '../../../../../../core/formats';
import { checkNumber, guarded } from '../../../../../../server/guard';
import { getHouse } from '../../../../../../server/house';
import { readWait } from '../../../../../../server/http/read-wait';
import { fileOfRun, untilOver } from '../../../../../../server/runs/run-results';
import { sendFile } from '../../../../../../server/send-file';

interface Context {
  readonly params: Promise<{ run: string; number: string }>;
}

export const dynamic = 'force-dynamic';

/** A file that a run delivered, by its place; `?wait=60` waits until the run is over, so many seconds at most. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const { run: id, number } = await params;
  const run = await untilOver(house, checkNumber('run', id), readWait(request), request.signal);
  const { name, delivery } = await fileOfRun(house, run, checkNumber('file', number));
  return sendFile(house.files.pathOf('deliveries', delivery.sha256), {
    type: isOutputFormat(delivery.format) ? OUTPUT_FORMATS[delivery.format].mime : 'application/octet-stream',
    cache: 'private, no-cache',
    attachment: name,
  });
});
