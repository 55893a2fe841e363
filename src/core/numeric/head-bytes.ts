import { badArgument } from '../errors';

/**
 * What is known of bytes, to be written before them: the length of its JSON in four bytes, the lowest first, and the JSON, one
 * byte a letter, so that names and numbers may stand in it and no letters beyond Latin-1.
 */
export function headBytes(head: unknown): Uint8Array {
  const letters = JSON.stringify(head);
  const out = new Uint8Array(4 + letters.length);
  new DataView(out.buffer).setUint32(0, letters.length, true);
  for (let i = 0; i < letters.length; i++) out[4 + i] = letters.charCodeAt(i);
  return out;
}

/** The head that bytes begin with, and where it ends. Throws `bad-argument`, naming `what`, where they begin otherwise. */
export function readHead(bytes: Uint8Array, what: string): { readonly head: unknown; readonly end: number } {
  const length =
    bytes.length < 4 ? NaN : new DataView(bytes.buffer, bytes.byteOffset, bytes.length).getUint32(0, true);
  const end = 4 + length;
  try {
    const letters = Array.from(bytes.subarray(4, end), (byte) => String.fromCharCode(byte));
    if (end <= bytes.length) return { head: JSON.parse(letters.join('')), end };
  } catch {
    // Said below.
  }
  throw badArgument(what, 'what is known of it first', 'other bytes');
}

/** Bytes one after another. */
export function joinedBytes(parts: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
