import { describe, expect, it } from 'vitest';
import { pieceName } from './piece-name';

describe('pieceName', () => {
  it.each([
    ['C:\\scans\\disc.png', 'disc.png'],
    ['../../etc/passwd', 'passwd'],
    ['a\u0000b\u001f.png', 'ab.png'],
    ['invoice\u202egnp.exe', 'invoicegnp.exe'],
    ['\u2066nested\u2069.png', 'nested.png'],
    ['con.png', '_con.png'],
    ['NUL', '_NUL'],
    ['com7 .jpg', '_com7 .jpg'],
    ['console.png', 'console.png'],
    ['  ', 'pasted picture'],
    ['\u202e', 'pasted picture'],
    ['.hidden.png', '.hidden.png'],
  ])('%j becomes %j', (typed, name) => {
    expect(pieceName(typed)).toBe(name);
  });

  it('never cuts a character in two', () => {
    const name = pieceName('🪁'.repeat(300));
    expect([...name]).toHaveLength(200);
    expect(() => encodeURIComponent(name)).not.toThrow();
  });
});
