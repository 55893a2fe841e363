import type { ReadableStream } from 'node:stream/web';
import { keptCutout, receiveCutout } from '../../../../../server/cutouts';
import { checkNumber, checkPieceId, guarded } from '../../../../../server/guard';
import { getHouse } from '../../../../../server/house';
import { sendFile } from '../../../../../server/send-file';

interface Context {
  readonly params: Promise<{ id: string }>;
}

export const dynamic = 'force-dynamic';

const PROGRAM = 'x-program';

/** The full-size cutout of one revision, packed beside the picture it was cut from, as gzip; nothing where it is not kept. */
export const GET = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const revision = checkNumber('revision', new URL(request.url).searchParams.get('revision'));
  const path = await keptCutout(house, checkPieceId((await params).id), revision);
  const headers = { [PROGRAM]: house.program, 'cache-control': 'no-store' };
  if (!path) return new Response(null, { status: 204, headers });
  const file = await sendFile(path, { type: 'application/gzip', cache: 'no-store' });
  file.headers.set(PROGRAM, house.program);
  return file;
});

/** Takes the one that the bench made, as gzip. */
export const PUT = guarded(async (request, { params }: Context) => {
  const house = await getHouse();
  const revision = checkNumber('revision', new URL(request.url).searchParams.get('revision'));
  const program = request.headers.get(PROGRAM) ?? '';
  const body = (request.body ?? new Blob([]).stream()) as unknown as ReadableStream<Uint8Array>;
  await receiveCutout(house, checkPieceId((await params).id), { revision, program }, body);
  return Response.json({ revision });
});
