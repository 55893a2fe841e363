/**
 * Memory that is used again from one call to the next, since fresh memory costs more than the work on it. It is passed
 * by whoever owns it. Each key has one array at a time: what was handed out under a key before is overwritten, so
 * nothing that outlives a call may be kept in it.
 */
export class Scratch {
  private readonly kept = new Map<string, Uint8Array | Float32Array | Float64Array>();

  /** Bytes, all 0. */
  zeroed(key: string, length: number): Uint8Array {
    return this.bytes(key, length).fill(0);
  }

  /** Bytes with whatever was left in them. */
  bytes(key: string, length: number): Uint8Array {
    let found = this.kept.get(key) as Uint8Array | undefined;
    if (!found || found.length < length) this.kept.set(key, (found = new Uint8Array(length)));
    return found.subarray(0, length);
  }

  /** Decimals with whatever was left in them. */
  floats(key: string, length: number): Float32Array {
    let found = this.kept.get(key) as Float32Array | undefined;
    if (!found || found.length < length) this.kept.set(key, (found = new Float32Array(length)));
    return found.subarray(0, length);
  }

  /** Doubles with whatever was left in them. */
  doubles(key: string, length: number): Float64Array {
    let found = this.kept.get(key) as Float64Array | undefined;
    if (!found || found.length < length) this.kept.set(key, (found = new Float64Array(length)));
    return found.subarray(0, length);
  }
}
