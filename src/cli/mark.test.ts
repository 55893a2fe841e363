import { mkdtemp, readdir, readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { freshFolder } from '../../tests/make/folder';
import { kenosis } from '../../tests/make/kenosis';
import { lineMark } from '../core/watermark/first-watermarks';
import { readMarkArguments } from './mark-args';

let root: string;
let photos: string;
const fresh = () => mkdtemp(path.join(root, 'out-'));
const shown = async (folder: string) =>
  (await readdir(folder)).filter((name) => !name.startsWith('.')).sort();

beforeAll(async () => {
  root = await freshFolder();
  photos = await mkdtemp(path.join(root, 'photos-'));
  for (const [name, width, height] of [
    ['wide', 300, 200],
    ['high', 200, 300],
  ] as const)
    await sharp({ create: { width, height, channels: 3, background: '#4080a0' } })
      .jpeg()
      .toFile(path.join(photos, `${name}.jpg`));
});

describe('kenosis mark', () => {
  it('puts a line on photos of a folder, and leaves them alone the next time', async () => {
    const out = await fresh();
    const run = () => kenosis('mark', photos, '--text', '© Ostrel', '-o', out);
    const first = await run();
    expect(first).toMatchObject({ code: 0, stderr: '' });
    expect(await shown(out)).toEqual(['high-marked.jpg', 'wide-marked.jpg']);
    const bytes = await readFile(path.join(out, 'wide-marked.jpg'));
    const second = await run();
    expect(second.code).toBe(0);
    expect(second.stdout).toMatch(/"state":"skipped".*marked by the same before/);
    expect(await readFile(path.join(out, 'wide-marked.jpg'))).toEqual(bytes);
    // What was delivered has a mark, wherever it is brought.
    const third = await kenosis(
      'mark',
      path.join(out, 'wide-marked.jpg'),
      '--text',
      'other',
      '-o',
      await fresh(),
    );
    expect(third.stdout).toMatch(/It has a mark already/);
  });

  it('makes equal bytes of a watermark in a file and by its name, and obeys every option', async () => {
    const file = path.join(root, 'line.json');
    await writeFile(file, JSON.stringify(lineMark('© Ostrel')));
    const [one, two] = [await fresh(), await fresh()];
    await kenosis('mark', photos, '--watermark', file, '-o', one);
    await kenosis('mark', photos, '--text', '© Ostrel', '-o', two);
    expect(await readFile(path.join(one, 'wide-marked.jpg'))).toEqual(
      await readFile(path.join(two, 'wide-marked.jpg')),
    );
    const out = await fresh();
    const options = [
      '--format',
      'png',
      '--long',
      '150',
      '--at',
      'top-left',
      '--size',
      '60',
      '--opacity',
      '40',
      '--author',
      'Maren',
    ];
    expect(
      await kenosis(
        'mark',
        path.join(photos, 'wide.jpg'),
        '--watermark',
        'name alone',
        ...options,
        '-o',
        out,
      ),
    ).toMatchObject({ code: 0 });
    const { format, width, exif } = await sharp(path.join(out, 'wide-marked.png')).metadata();
    expect([format, width]).toEqual(['png', 150]);
    expect(exif!.toString('latin1')).toContain('Maren');
  });

  it('says what is wrong, with the right code', async () => {
    const out = await fresh();
    const said = async (...args: string[]) => {
      const { code, stderr } = await kenosis('mark', ...args);
      return `${code} ${stderr}`;
    };
    expect(await said(photos, '--watermark', 'nothing', '-o', out)).toMatch(
      /^2 .*expected one of "name alone", "tiled proof"/,
    );
    expect(await said(photos, '--watermark', path.join(root, 'gone.json'), '-o', out)).toMatch(
      /^2 .*cannot be read/,
    );
    await writeFile(path.join(root, 'bad.json'), '{"format":"kenosis-watermark","version":1}');
    expect(await said(photos, '--watermark', path.join(root, 'bad.json'), '-o', out)).toMatch(
      /bad\.json": watermark\.name/,
    );
    expect(await said(photos, '--text', 'x'.repeat(10_000), '-o', out)).toMatch(
      /^2 .*--text: expected 1 to 300 letters, got 10000 letters/,
    );
    expect((await kenosis('mark', photos, '--text', 'שלום', '-o', out)).stdout).toMatch(
      /"failed".*right to left/,
    );
    expect(await shown(out)).toEqual([]);
  });
});

describe('arguments of kenosis mark', () => {
  const refusal = (...args: string[]) => {
    try {
      return JSON.stringify(readMarkArguments(args));
    } catch (error) {
      return (error as Error).message;
    }
  };

  it.each([
    [['-o', 'x', '--text', 'a'], 'PHOTO: expected photos'],
    [['a.jpg', '--text', 'a'], '-o: expected the folder'],
    [['a.jpg', '-o', 'x'], '--watermark: expected the name or the file'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--watermark', 'b'], 'both'],
    [
      ['a.jpg', '-o', 'x', '--watermark', 'b', '--typeface', 'lora'],
      '--typeface: expected it together with --text',
    ],
    [['a.jpg', '-o', 'x', '--text', 'a', '--typeface', 'none'], '--typeface: expected one of work-sans'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--format', 'gif'], '--format: expected one of same'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--quality', '0'], '--quality: expected 1 to 100'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--at', 'line'], '--at: expected one of top-left'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--long', '5', '--megapixels', '2'], 'both'],
    [['a.jpg', '-o', 'x', '--text', 'a', '--size', 'big'], '--size: expected 1 to 100'],
  ] as const)('%j are refused', (args, words) => {
    expect(refusal(...args)).toContain(words);
  });

  it('are read', () => {
    const read = readMarkArguments([
      'a.jpg',
      'b',
      '-o',
      'x',
      '--text',
      'a',
      '--typeface',
      'lora',
      '--megapixels',
      '2',
      '--drop-location',
      '--jobs',
      '3',
      '--resume',
      '--report',
      'r.csv',
    ]);
    expect(read).toMatchObject({
      inputs: ['a.jpg', 'b'],
      source: { text: 'a', typeface: 'lora' },
      marked: { location: 'dropped', resize: { kind: 'megapixels', megapixels: 2 } },
      jobs: 3,
      resume: true,
      reportFile: 'r.csv',
    });
  });
});
