import { KenosisError } from '../../../core/errors';
import type { ReadableStream } from 'node:stream/web';
import { z } from 'zod';
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

const damagedSchema = z.enum(['refuse', 'accept'], 'damaged: expected refuse or accept');

/**
 * Imports one picture: its bytes are the body, its name is in the query, and whether a damaged one is refused or taken as
 * far as it can be read.
 */
export const POST = guarded(async (request) => {
  const query = new URL(request.url).searchParams;
  const name = query.get('name') ?? '';
  const damaged = damagedSchema.safeParse(query.get('damaged') ?? 'refuse');
  if (!damaged.success) throw new KenosisError('bad-argument', damaged.error.issues[0]!.message);
  if (Number(request.headers.get('content-length') ?? 0) > MAX_BYTES) throw tooManyBytes(name);
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was imported from it.`);
  const house = await getHouse();
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  const imported = await importPiece(house, name, body, { damaged: damaged.data, signal: request.signal });
  return Response.json(imported, { status: imported.known ? 200 : 201 });
});
