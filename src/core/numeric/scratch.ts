/**
 * Arrays that are used again from one call to the next, since fresh memory costs more than the work on it. Each key has
 * one array at a time: what was handed out under a key before is overwritten. Nothing that outlives a call may be kept.
 */
const kept = new Map<string, Uint8Array | Float32Array>();

/** Bytes, all 0. */
export function zeroedBytes(key: string, length: number): Uint8Array {
  return bytes(key, length).fill(0);
}

/** Bytes with whatever was left in them. */
export function bytes(key: string, length: number): Uint8Array {
  let found = kept.get(key) as Uint8Array | undefined;
  if (!found || found.length < length) kept.set(key, (found = new Uint8Array(length)));
  return found.subarray(0, length);
}

/** Decimals with whatever was left in them. */
export function floats(key: string, length: number): Float32Array {
  let found = kept.get(key) as Float32Array | undefined;
  if (!found || found.length < length) kept.set(key, (found = new Float32Array(length)));
  return found.subarray(0, length);
}
