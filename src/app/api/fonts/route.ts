import type { ReadableStream } from 'node:stream/web';
import { MOST_FONT_BYTES } from '../../../codec/font/read-font';
import { tooManyBytes } from '../../../codec/inspect';
import { KenosisError } from '../../../core/errors';
import { guarded, readBody } from '../../../server/guard';
import { getHouse } from '../../../server/house';
import { fontRequestSchema } from '../../../server/http/requests';
import { bringFont, forgetFont } from '../../../server/watermarks/fonts';
import { listFonts } from '../../../storage/watermarks';

export const dynamic = 'force-dynamic';

/** The fonts that were brought. */
export const GET = guarded(async () =>
  Response.json({ fonts: await listFonts((await getHouse()).database) }),
);

/** Takes a font file in: its bytes are the body, its name is in the query. */
export const POST = guarded(async (request) => {
  const name = new URL(request.url).searchParams.get('name') ?? '';
  if (Number(request.headers.get('content-length') ?? 0) > MOST_FONT_BYTES)
    throw tooManyBytes(name, MOST_FONT_BYTES);
  if (!request.body)
    throw new KenosisError('empty-file', `"${name}" is empty (0 bytes). Nothing was brought.`);
  const body = request.body as unknown as ReadableStream<Uint8Array>;
  return Response.json({ font: await bringFont(await getHouse(), name, body) }, { status: 201 });
});

/** Forgets a font that no watermark is set in. */
export const DELETE = guarded(async (request) => {
  const { font } = await readBody(request, fontRequestSchema);
  await forgetFont(await getHouse(), font);
  return Response.json({ forgotten: true });
});
