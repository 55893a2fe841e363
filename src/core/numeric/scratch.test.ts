import { expect, it } from 'vitest';
import { bytes, floats, zeroedBytes } from './scratch';

it('hands out the same memory again, zeroed where that is asked for', () => {
  const first = bytes('test', 10);
  first.fill(7);
  expect([...bytes('test', 4)]).toEqual([7, 7, 7, 7]);
  expect([...zeroedBytes('test', 10)]).toEqual(Array(10).fill(0));
  expect(bytes('test', 10).buffer).toBe(first.buffer);
  expect(bytes('test', 11).buffer).not.toBe(first.buffer);
  expect(floats('other test', 3)).toHaveLength(3);
});
