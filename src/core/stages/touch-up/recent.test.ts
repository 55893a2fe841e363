import { describe, expect, it } from 'vitest';
import { Recent } from './recent';

describe('Recent', () => {
  it('makes a value once, and forgets what was asked for longest ago', () => {
    const made: string[] = [];
    const recent = new Recent<string>(10);
    const at = (text: string) =>
      recent.at(text, () => {
        made.push(text);
        return text.toUpperCase();
      });
    expect([at('aaaa'), at('bbbb'), at('aaaa')]).toEqual(['AAAA', 'BBBB', 'AAAA']);
    at('cccc');
    expect(made).toEqual(['aaaa', 'bbbb', 'cccc']);
    at('aaaa');
    expect(made).toHaveLength(3);
    at('bbbb');
    expect(made.at(-1)).toBe('bbbb');
  });

  it('gives one that is longer than all it may remember', () => {
    expect(new Recent<number>(3).at('abcdef', () => 7)).toBe(7);
  });
});
