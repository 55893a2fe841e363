import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';

/** SHA-256, hex, and length in bytes of a file, read once and in pieces: it holds nobody up for long. */
export async function hashFile(path: string): Promise<{ readonly sha256: string; readonly bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
    hash.update(chunk);
    bytes += chunk.length;
  }
  return { sha256: hash.digest('hex'), bytes };
}
