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

/** The first index from `from` on at which a plane is 1, or another value; -1 where there is none. Quick where those are few. */
export function nextOne(plane: Uint8Array, from: number, value = 1): number {
  return plane[from] === value ? from : plane.indexOf(value, from);
}

/** Four values at a time; a copy where the plane does not begin at a whole four. */
export function foursOf(plane: Uint8Array): Int32Array {
  const whole = plane.byteOffset % 4 === 0 ? plane : plane.slice();
  return new Int32Array(whole.buffer, whole.byteOffset, whole.length >> 2);
}
