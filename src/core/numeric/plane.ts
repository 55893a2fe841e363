/** A plane of bytes with a value for each place. `Uint8Array.from` would go by an iterator. */
export function bytesBy(length: number, valueAt: (i: number) => number): Uint8Array {
  const out = new Uint8Array(length);
  for (let i = 0; i < length; i++) out[i] = valueAt(i);
  return out;
}

/** The same in single precision. */
export function floatsBy(length: number, valueAt: (i: number) => number): Float32Array {
  const out = new Float32Array(length);
  for (let i = 0; i < length; i++) out[i] = valueAt(i);
  return out;
}
