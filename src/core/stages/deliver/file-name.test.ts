import { describe, expect, it } from 'vitest';
import { checkFileName, proposedFileName } from './file-name';

describe('proposedFileName', () => {
  it.each([
    ['wordmark.jpg', 'wordmark-cutout.png'],
    ['Scan 12.final.jpeg', 'Scan 12.final-cutout.png'],
    ['no ending', 'no ending-cutout.png'],
    ['a/b\\c:d*?.png', 'abcd-cutout.png'],
    ['.png', 'piece-cutout.png'],
    ['字.webp', '字-cutout.png'],
  ])('%s -> %s', (original, proposed) => {
    expect(proposedFileName(original)).toBe(proposed);
    expect(checkFileName(proposed)).toBe(proposed);
  });

  it.each([
    ['.hidden.png', 'hidden-cutout.png'],
    ['...', 'piece-cutout.png'],
    ['. . .jpg', 'piece-cutout.png'],
    ['sign\u202egnp.png', 'signgnp-cutout.png'],
  ])('of %j can be delivered: %s', (name, expected) => {
    expect(proposedFileName(name)).toBe(expected);
    expect(checkFileName(expected)).toBe(expected);
  });

  it('stays short for the longest names', () => {
    expect(proposedFileName(`${'x'.repeat(500)}.png`).length).toBeLessThanOrEqual(200);
  });
});

describe('checkFileName', () => {
  it('adds the ending', () => {
    expect(checkFileName(' navy ')).toBe('navy.png');
    expect(checkFileName('navy.PNG')).toBe('navy.PNG');
  });

  it.each([
    '',
    '  ',
    '.png',
    '../up.png',
    'a/b',
    'a\\b',
    'nul\u0000',
    '.hidden',
    'x'.repeat(250),
    'con',
    'LPT1.png',
    'sign\u202egnp',
  ])('refuses %j', (name) => {
    expect(() => checkFileName(name)).toThrow(/file name/);
  });
});
