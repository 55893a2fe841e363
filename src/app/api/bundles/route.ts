import contentDisposition from 'content-disposition';
import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../../../core/errors';
import { MOST_BUNDLED } from '../../../server/bundle-format';
import { exportBundle } from '../../../server/export-bundle';
import { checkPieceId, guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { importBundle } from '../../../server/import-bundle';

export const dynamic = 'force-dynamic';

/** Pieces as a bundle: `?pieces=ID,ID&name=kite`. */
export const GET = guarded(async (request) => {
  const query = new URL(request.url).searchParams;
  const ids = (query.get('pieces') ?? '').split(',').map(checkPieceId);
  if (ids.length > MOST_BUNDLED)
    throw new KenosisError('bad-argument', `pieces: expected at most ${MOST_BUNDLED}, got ${ids.length}`);
  const stem = (query.get('name') ?? '').replace(/[^\p{L}\p{N} ._-]/gu, '').slice(0, 100) || 'pieces';
  return new Response(await exportBundle(await getHouse(), ids), {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': contentDisposition(`${stem}-bundle.zip`),
      'cache-control': 'no-store',
    },
  });
});

/** Takes a bundle in: its bytes are the body, its name is in the query. */
export const POST = guarded(async (request) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  const arrived = await importBundle(await getHouse(), name, body, request.signal);
  return Response.json({ arrived }, { status: arrived.every(({ known }) => known) ? 200 : 201 });
});
