import { describe, expect, it } from 'vitest';
import { headBytes, joinedBytes, readHead } from './head-bytes';

describe('a head before bytes', () => {
  it('is read back with where it ends, whatever follows, also in the middle of a buffer', () => {
    const head = { size: [3, 4], why: 'é"\\', none: null };
    const bytes = joinedBytes([new Uint8Array(7), headBytes(head), new Uint8Array([1, 2])]);
    const read = readHead(bytes.subarray(7), 'this');
    expect(read.head).toEqual(head);
    expect([...bytes.subarray(7).subarray(read.end)]).toEqual([1, 2]);
  });

  it.each([
    ['there are too few bytes for a length', new Uint8Array(3)],
    ['it would be longer than the bytes are', headBytes('long enough').subarray(0, 9)],
    ['it is no JSON', Uint8Array.from([2, 0, 0, 0, 123, 123])],
  ])('is refused by name where %s', (_why, bytes) => {
    expect(() => readHead(bytes, 'this and that')).toThrow(/this and that/);
  });
});
