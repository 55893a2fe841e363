import { KeptDecisions } from '../../core/decision/kept-decisions';
import { createRaster, type Bytes, type Raster } from '../../core/raster/raster';

/** Loads a master's pixels. Throws with the server's words. */
export async function loadMaster(address: string): Promise<{ width: number; height: number; data: Bytes }> {
  const response = await fetch(address);
  if (!response.ok) {
    const refusal = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new Error(refusal?.message ?? `The picture could not be loaded (status ${response.status}).`);
  }
  const width = Number(response.headers.get('x-width'));
  const height = Number(response.headers.get('x-height'));
  return { width, height, data: await bytesOf(response, 4 * width * height) };
}

/** So many bytes of an answer; on memory that helpers can read, where there is such. */
async function bytesOf(response: Response, length: number): Promise<Bytes> {
  if (!crossOriginIsolated) return new Uint8Array(await response.arrayBuffer());
  const bytes = new Uint8Array(new SharedArrayBuffer(length));
  let at = 0;
  for (const reader = response.body!.getReader(); ;) {
    const { done, value } = await reader.read();
    if (done) break;
    bytes.set(value, at);
    at += value.length;
  }
  if (at !== length) throw new Error('The picture broke off while it was loaded. Open the piece again.');
  // Nobody asks to own the bytes of an original: they are only read.
  return bytes as unknown as Bytes;
}

/** The bytes of an answer that were sent as a gzip file. */
export async function unzipped({ body }: Response): Promise<Uint8Array> {
  const bytes = body!.pipeThrough(new DecompressionStream('gzip'));
  return new Uint8Array(await new Response(bytes).arrayBuffer());
}

/** What the server keeps of what was decided of a piece. What cannot be had is decided anew. */
export async function loadDecisions(address: string): Promise<KeptDecisions> {
  try {
    const response = await fetch(address);
    return new KeptDecisions(response.status === 200 ? await unzipped(response) : null);
  } catch {
    return new KeptDecisions();
  }
}

/** A picture that lies behind others is kept at most so wide and high. */
const PICTURE_PX = 2400;

/** The first picture of these addresses that the browser can decode; null where it can none, or `signal` ends it. */
export async function loadPicture(
  addresses: readonly string[],
  signal: AbortSignal | null = null,
): Promise<Raster | null> {
  for (const address of addresses) {
    const picture = await decoded(address, signal);
    if (!picture) continue;
    const times = Math.min(1, PICTURE_PX / Math.max(picture.width, picture.height));
    const width = Math.max(1, Math.round(picture.width * times));
    const height = Math.max(1, Math.round(picture.height * times));
    const context = new OffscreenCanvas(width, height).getContext('2d')!;
    context.drawImage(picture, 0, 0, width, height);
    const { data } = context.getImageData(0, 0, width, height);
    return createRaster(width, height, new Uint8Array(data.buffer));
  }
  return null;
}

async function decoded(address: string, signal: AbortSignal | null): Promise<ImageBitmap | null> {
  try {
    const response = await fetch(address, { signal });
    return response.ok ? await createImageBitmap(await response.blob()) : null;
  } catch {
    return null;
  }
}
