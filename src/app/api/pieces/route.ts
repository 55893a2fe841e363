import { KenosisError } from '../../../core/errors';
import type { ReadableStream } from 'node:stream/web';
import { tooManyBytes } from '../../../codec/inspect';
import { MAX_BYTES } from '../../../codec/limits';
import { guarded } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { importPiece } from '../../../server/import-piece';
import { listPieces } from '../../../storage/pieces';

export const dynamic = 'force-dynamic';

/** The Shelf. */
export const GET = guarded(async () => {
  const house = await getHouse();
  return Response.json({ pieces: await listPieces(house.database) });
});

/** Imports one picture: its bytes are the body, its name is in the query. */
export const POST = guarded(async (request) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BYTES) throw tooManyBytes(name);
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  const house = await getHouse();
  const imported = await importPiece(house, name, request.body as unknown as ReadableStream<Uint8Array>);
  return Response.json(imported, { status: imported.known ? 200 : 201 });
});
