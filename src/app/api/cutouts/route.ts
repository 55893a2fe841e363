import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../../../core/errors';
import { guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { cutoutQuerySchema } from '../../../server/http/requests';
import { importPiece } from '../../../server/import-piece';
import { beginRun } from '../../../server/runs/begin-run';
import { getRoutine } from '../../../storage/routines';

export const dynamic = 'force-dynamic';

/**
 * Takes a picture, its bytes the body, and begins a run of it alone: `?name=kite.jpg&routine=product-on-transparent`, and
 * `&notSure=deliver` where it is wanted whatever is not sure of it.
 */
export const POST = guarded(async (request) => {
  const query = cutoutQuerySchema.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!query.success) {
    const issue = query.error.issues[0]!;
    throw new KenosisError('bad-argument', `${issue.path.join('.')}: ${issue.message}`);
  }
  const { name, routine, notSure } = query.data;
  if (!request.body) throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was done.`);
  const house = await getHouse();
  // A routine that is not there is told before anything comes in.
  const found = await getRoutine(house.database, routine);
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  const { piece } = await importPiece(house, name, body, { signal: request.signal });
  const run = await beginRun(house, {
    routine: notSure ? { ...found, notSure } : found,
    pieces: [piece.id],
  });
  return Response.json({ run, piece }, { status: 202, headers: { location: `/api/runs/${run.id}` } });
});
