import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../../../core/errors';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { groundRequestSchema } from '../../../server/http/requests';
import { groundFactsOf } from '../../../server/proofs/ground-files';
import { bringPdf } from '../../../server/proofs/make-proofs';

export const dynamic = 'force-dynamic';

/** Takes a PDF in as a ground: its bytes are the body, its name is in the query. */
export const POST = guarded(async (request) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was brought.`);
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  return Response.json(await bringPdf(await getHouse(), name, body), { status: 201 });
});

/** What is known of a ground. */
export const PUT = guarded(async (request) => {
  const { source } = await readBody(request, groundRequestSchema);
  return Response.json({ facts: await groundFactsOf(await getHouse(), source) });
});
