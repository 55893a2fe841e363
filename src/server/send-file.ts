import contentDisposition from 'content-disposition';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';

/** Streams a kept file. `attachment` is the name it is saved under. */
export async function sendFile(
  path: string,
  headers: { readonly type: string; readonly cache: string; readonly attachment?: string },
): Promise<Response> {
  const { size } = await stat(path);
  const body = Readable.toWeb(createReadStream(path)) as ReadableStream<Uint8Array>;
  return new Response(body, {
    headers: {
      'content-type': headers.type,
      'content-length': String(size),
      'cache-control': headers.cache,
      ...(headers.attachment ? { 'content-disposition': contentDisposition(headers.attachment) } : {}),
    },
  });
}
