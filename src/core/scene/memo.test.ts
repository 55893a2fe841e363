import { describe, expect, it } from 'vitest';
import { Fact, Memo, Remembered } from './memo';

describe('Memo', () => {
  it('makes each fact once, for each picture its own', () => {
    let made = 0;
    const list = new Fact(() => [++made]);
    const other = new Fact(() => 'other');
    const [one, two] = [new Memo(), new Memo()];
    one.of(list).push(9);
    expect(one.of(list)).toEqual([1, 9]);
    expect(two.of(list)).toEqual([2]);
    expect(one.of(other)).toBe('other');
    expect(made).toBe(2);
  });
});

describe('Remembered', () => {
  it('lets the first go when there are too many, and remembers null', () => {
    const values = new Remembered<number | null>(2);
    let made = 0;
    const at = (key: string, value: number | null) =>
      values.at(key, () => {
        made++;
        return value;
      });
    at('a', 1);
    at('b', null);
    expect([at('a', 7), at('b', 7), made]).toEqual([1, null, 2]);
    at('c', 3);
    expect([values.get('a'), values.get('b'), values.get('c')]).toEqual([undefined, null, 3]);
    expect(at('a', 4)).toBe(4);
  });
});
