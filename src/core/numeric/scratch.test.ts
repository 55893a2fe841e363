import { expect, it } from 'vitest';
import { Scratch } from './scratch';

it('hands out the same memory again, zeroed where that is asked for', () => {
  const scratch = new Scratch();
  const first = scratch.bytes('one', 10);
  first.fill(7);
  expect([...scratch.bytes('one', 4)]).toEqual([7, 7, 7, 7]);
  expect([...scratch.zeroed('one', 10)]).toEqual(Array(10).fill(0));
  expect(scratch.bytes('one', 10).buffer).toBe(first.buffer);
  expect(scratch.bytes('one', 11).buffer).not.toBe(first.buffer);
  expect(scratch.floats('other', 3)).toHaveLength(3);
  expect(new Scratch().bytes('one', 10).buffer).not.toBe(scratch.bytes('one', 10).buffer);
});
