import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { TYPEFACES, type FontSource, type Typeface } from '../../core/watermark/settings';
import { fontFacts, readFont } from './read-font';
import { faceOf, shapeLine } from './shape';
import { nearestWeight, typefaceFiles } from './typefaces';

const require = createRequire(import.meta.url);
const fileOf = (name: string) =>
  path.join(path.dirname(require.resolve('@fontsource/lora/package.json')), 'files', `${name}.woff2`);

const shipped = (which: Typeface): FontSource => ({ kind: 'shipped', which });
const none = () => Promise.reject(new Error('not asked for'));
const set = async (text: string, which: Typeface = 'lora', ligatures = true) =>
  shapeLine(await faceOf({ font: shipped(which), weight: 400 }, none), text, ligatures);
const widthOf = async (text: string) =>
  (await set(text)).glyphs.reduce((sum, { advance }) => sum + advance, 0);

describe('typefaces that ship', () => {
  it.each(Object.keys(TYPEFACES) as Typeface[])(
    '%s has its files in every weight, and letters of Latin',
    async (which) => {
      for (const weight of TYPEFACES[which].weights) {
        expect((await typefaceFiles(which, weight)).length).toBeGreaterThan(0);
        expect(nearestWeight(which, weight)).toBe(weight);
      }
      const { glyphs } = await set('Ostrel © 2026 Łódź é', which);
      expect(glyphs.every(({ advance }) => advance > 0)).toBe(true);
    },
  );

  it('has the outline of a letter as its file draws it', async () => {
    const { glyphs } = await set('l');
    const font = readFont(await readFile(fileOf('lora-latin-400-normal')), 'Lora');
    const { commands } = font.glyphForCodePoint(0x6c).path;
    const numbers = commands.reduce((sum, { args }) => sum + 1 + args.length, 0);
    expect(glyphs[0]!.path).toHaveLength(numbers);
    expect(glyphs[0]!.path[1]).toBeCloseTo(commands[0]!.args[0]! / font.unitsPerEm, 12);
  });
});

describe('setting a line', () => {
  it('kerns', async () => {
    expect(await widthOf('AV')).toBeLessThan((await widthOf('A')) + (await widthOf('V')) - 0.01);
  });

  it('joins letters where that is wished, and not where they are set apart', async () => {
    expect((await set('fi')).glyphs).toHaveLength(1);
    expect((await set('fi', 'lora', false)).glyphs).toHaveLength(2);
  });

  it('takes letters of other parts of the typeface from there', async () => {
    expect(
      (await set('Łódź Привет')).glyphs.every(({ path: own, advance }) => own.length > 0 || advance > 0),
    ).toBe(true);
  });

  it.each([
    ['a😀b', /"😀" is not in Lora/],
    ['漢', /"漢" is not in Lora\. Choose another typeface/],
    ['\u0007', /U\+0007/],
    ['שלום', /right to left/],
    ['مرحبا', /right to left/],
  ])('refuses %s with a sentence, never a box', async (text, words) => {
    await expect(set(text)).rejects.toMatchObject({
      code: 'no-letters',
      message: expect.stringMatching(words) as string,
    });
  });

  it('takes an empty line, spaces and tabs', async () => {
    expect((await set('')).glyphs).toEqual([]);
    expect((await set(' \t\u00a0')).glyphs.every(({ path: own }) => own.length === 0)).toBe(true);
  });
});

describe('fonts that are brought', () => {
  const lora = () => readFile(fileOf('lora-latin-400-normal'));

  it('tell what they are', async () => {
    expect(fontFacts(await lora(), 'lora.woff2')).toEqual({ family: 'Lora', kind: 'WOFF2', weights: null });
    // A variable font that is packed as WOFF2 is set as it begins.
    const variable = require.resolve('@fontsource-variable/commissioner/package.json');
    const bytes = await readFile(
      path.join(path.dirname(variable), 'files', 'commissioner-latin-wght-normal.woff2'),
    );
    expect(fontFacts(bytes, 'c.woff2').weights).toBeNull();
    const at = async (weight: number) => {
      const face = await faceOf(
        { font: { kind: 'brought', name: 'c.woff2', file: 'f'.repeat(64) }, weight },
        () => Promise.resolve({ name: 'c.woff2', bytes }),
      );
      return shapeLine(face, 'HHHH', true);
    };
    expect(await at(900)).toEqual(await at(200));
    expect((await at(400)).glyphs[0]!.path.length).toBeGreaterThan(8);
  });

  it('that lie or are damaged are refused', async () => {
    const good = await lora();
    const changed = (at: number, bytes: readonly number[]) => {
      const copy = Buffer.from(good);
      copy.set(bytes, at);
      return copy;
    };
    const refusal = (bytes: Buffer) => {
      try {
        readFont(bytes, 'x.woff2');
        return 'taken';
      } catch (error) {
        return `${(error as { code: string }).code}: ${(error as Error).message}`;
      }
    };
    expect(refusal(Buffer.from('not a font at all'))).toMatch(
      /^bad-font: "x.woff2" is no font that can be read: bring a TTF, OTF or WOFF2/,
    );
    expect(refusal(changed(16, [0xff, 0xff, 0xff, 0xff]))).toMatch(/too large when it is unpacked/);
    expect(refusal(good.subarray(0, 600))).toMatch(/^bad-font: "x.woff2" is damaged/);
    expect(refusal(Buffer.alloc(10_000_001, 0))).toMatch(/larger than 10 MB/);
    // Whatever byte is wrong: a font, or a sentence.
    for (let at = 48; at < good.length; at += 397)
      expect(refusal(changed(at, [good[at]! ^ 0x5a]))).toMatch(/^taken$|^bad-font/);
  });
});
