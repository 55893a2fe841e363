import { readFile, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { readPage, renderPage } from '../codec/pdf/render-page';
import { asSharp } from '../../tests/make/files';
import { freshFolder } from '../../tests/make/folder';
import { kenosis } from '../../tests/make/kenosis';
import { letterPdf } from '../../tests/make/letters';
import { paint } from '../../tests/make/pictures';
import { readPlace, readPlaceArguments } from './place-args';

describe('the arguments of kenosis place', () => {
  it.each([
    [
      'right 20mm bottom 40mm',
      { anchor: 'bottom-right', x: { value: 20, unit: 'mm' }, y: { value: 40, unit: 'mm' } },
    ],
    [
      'bottom 40mm right 20mm',
      { anchor: 'bottom-right', x: { value: 20, unit: 'mm' }, y: { value: 40, unit: 'mm' } },
    ],
    ['left 10px top', { anchor: 'top-left', x: { value: 10, unit: 'px' }, y: null }],
    ['center', { anchor: 'center', x: null, y: null }],
    ['bottom 5mm', { anchor: 'bottom', x: null, y: { value: 5, unit: 'mm' } }],
    ['right middle', { anchor: 'right', x: null, y: null }],
    ['line', { anchor: 'line', x: null, y: null }],
  ])('say where: %s', (text, wish) => {
    expect(readPlace(text)).toEqual(wish);
  });

  it.each([
    '',
    'right right',
    'up',
    'right 20',
    'right 20cm',
    'line 3mm',
    'left 3mm top 4mm 5mm',
    'left,top',
  ])('are refused where they do not: %s', (text) => {
    expect(() => readPlace(text)).toThrow('--at: expected');
  });

  const given = (...more: string[]) => readPlaceArguments(['a.png', '--on', 'b.pdf', '-o', 'c.pdf', ...more]);

  it.each([
    [['--width', '52'], '--width'],
    [['--width', '-3mm'], '--width'],
    [['--turn', '400'], '--turn'],
    [['--opacity', '0'], '--opacity'],
    [['--dpi', 'x'], '--dpi'],
    [['--page', '0'], '--page'],
    [['--glue'], 'glue'],
    [['second.png'], 'CUTOUT'],
  ])('are obeyed or refused: %s', (args, named) => {
    expect(() => given(...args)).toThrow(named);
  });

  it('are all read', () => {
    expect(
      given(
        '--page',
        'last',
        '--width',
        '52mm',
        '--turn=-3.5',
        '--opacity',
        '80',
        '--ink',
        '--dpi',
        '200',
        '--opaque',
      ),
    ).toMatchObject({
      page: 'last',
      width: { value: 52, unit: 'mm' },
      angleDeg: -3.5,
      opacity: 80,
      blend: 'multiply',
      dpi: 200,
      opaque: true,
      format: 'pdf',
    });
    expect(() => readPlaceArguments(['a.png', '-o', 'c.pdf'])).toThrow('--on');
    expect(() => readPlaceArguments(['a.png', '--on', 'b.pdf', '-o', 'c.gif'])).toThrow('.pdf, .png or .jpg');
  });
});

describe('kenosis place', () => {
  let folder: string;
  const at = (name: string) => path.join(folder, name);
  beforeAll(async () => {
    folder = await freshFolder();
    const ring = paint(200, 100, (x, y) => {
      const far = Math.hypot((x - 99.5) / 2, y - 49.5);
      return [20, 30, 110, far < 50 && far > 30 ? 255 : 0];
    });
    await asSharp(ring).png().toFile(at('ring.png'));
    await asSharp(paint(40, 30, () => [9, 9, 9]))
      .png()
      .toFile(at('box.png'));
    await asSharp(paint(300, 200, () => [240, 240, 240]))
      .jpeg({ quality: 95 })
      .toFile(at('photo.jpg'));
    await writeFile(at('words.png'), 'no picture at all');
    await writeFile(at('letter.pdf'), await letterPdf({ line: { x: 90, y: 200, width: 180 } }));
    await writeFile(at('two.pdf'), await letterPdf({ pages: 2 }));
    await writeFile(at('signed.pdf'), await letterPdf({ field: 'signed' }));
  });

  /** What is blue on a page, in millimeters. */
  const blueOn = async (file: string, number: number | null = 1, dpi = 100) => {
    const page = await readPage({ path: file, name: 'x.pdf' }, number);
    const { data, width, height } = await renderPage(
      { path: file, name: 'x.pdf' },
      page,
      (page.view.widthMm * dpi) / 25.4,
    );
    let [left, top, right, bottom] = [width, height, -1, -1];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const p = (y * width + x) * 4;
        if (data[p + 2]! - data[p]! < 50) continue;
        [left, top] = [Math.min(left, x), Math.min(top, y)];
        [right, bottom] = [Math.max(right, x + 1), Math.max(bottom, y + 1)];
      }
    return [left, top, right, bottom].map((px) => (px * 25.4) / dpi);
  };

  it('places in a PDF, whose bytes stay, where it is told to', async () => {
    const told = await kenosis(
      'place',
      at('ring.png'),
      '--on',
      at('letter.pdf'),
      '--at',
      'right 20mm bottom 40mm',
      '--width',
      '52mm',
      '-o',
      at('out.pdf'),
    );
    expect(told).toMatchObject({ code: 0 });
    expect(told.stdout).toContain('52 x 26 mm at 138, 231 mm on page 1');
    const [left, top, right, bottom] = await blueOn(at('out.pdf'));
    expect(left).toBeCloseTo(138, 0);
    expect(top).toBeCloseTo(231, 0);
    expect(right).toBeCloseTo(190, 0);
    expect(bottom).toBeCloseTo(257, 0);
    const before = await readFile(at('letter.pdf'));
    expect(Buffer.compare((await readFile(at('out.pdf'))).subarray(0, before.length), before)).toBe(0);
  });

  it('finds the line, and lies on it', async () => {
    const told = await kenosis(
      'place',
      at('ring.png'),
      '--on',
      at('letter.pdf'),
      '--at',
      'line',
      '--width',
      '40mm',
      '-o',
      at('line.pdf'),
    );
    expect(told.code).toBe(0);
    const [left, , , bottom] = await blueOn(at('line.pdf'));
    expect(left).toBeCloseTo((90 * 25.4) / 72, 0);
    expect(bottom).toBeCloseTo(297 - (200 * 25.4) / 72, 0);
    const none = await kenosis(
      'place',
      at('ring.png'),
      '--on',
      at('two.pdf'),
      '--page',
      'last',
      '--at',
      'line',
      '-o',
      at('none.pdf'),
    );
    expect(none.code).toBe(1);
    expect(none.stderr).toContain('No line');
    await expect(readFile(at('none.pdf'))).rejects.toThrow();
  });

  it('places on a picture, in pixels of it, and says where it is hard to read', async () => {
    const told = await kenosis(
      'place',
      at('ring.png'),
      '--on',
      at('photo.jpg'),
      '--at',
      'left 10px top 20px',
      '--width',
      '100px',
      '-o',
      at('photo.png'),
    );
    expect(told.code).toBe(0);
    const { data, info } = await sharp(at('photo.png'))
      .removeAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([300, 200]);
    // The ring's upper edge, in the middle of its box; and beside it the photo as it was.
    expect(data[((20 + 4) * 300 + 60) * 3 + 2]!).toBeGreaterThan(data[((20 + 4) * 300 + 60) * 3]! + 50);
    const bare = await sharp(at('photo.jpg')).raw().toBuffer();
    expect([...data.subarray(0, 3)]).toEqual([...bare.subarray(0, 3)]);
    const faint = await kenosis(
      'place',
      at('ring.png'),
      '--on',
      at('photo.jpg'),
      '--opacity',
      '10',
      '-o',
      at('faint.jpg'),
    );
    expect(faint.code).toBe(0);
    expect(faint.stderr).toContain('hard to read');
  });

  it.each([
    ['a page has to be named', ['ring.png', '--on', 'two.pdf', '-o', 'x.pdf'], 2, 'has 2 pages; name one'],
    [
      'a page that is not there',
      ['ring.png', '--on', 'two.pdf', '--page', '3', '-o', 'x.pdf'],
      2,
      'has 2 pages, not 3',
    ],
    ['a signed PDF', ['ring.png', '--on', 'signed.pdf', '-o', 'x.pdf'], 1, 'is signed digitally'],
    ['a picture as PDF', ['ring.png', '--on', 'photo.jpg', '-o', 'x.pdf'], 2, '.png or .jpg for a picture'],
    [
      'pixels on paper',
      ['ring.png', '--on', 'letter.pdf', '--width', '90px', '-o', 'x.pdf'],
      2,
      'mm on this ground',
    ],
    ['no transparent parts', ['box.png', '--on', 'letter.pdf', '-o', 'x.pdf'], 1, 'has no transparent parts'],
    [
      'a file that is read',
      ['ring.png', '--on', 'letter.pdf', '-o', 'letter.pdf'],
      2,
      'the file that --on reads',
    ],
    ['nothing there', ['ring.png', '--on', 'away.pdf', '-o', 'x.pdf'], 1, 'cannot be read'],
    ['what is no picture', ['words.png', '--on', 'letter.pdf', '-o', 'x.pdf'], 1, 'is not a picture'],
  ])('refuses with a sentence, and writes nothing: %s', async (_name, args, code, words) => {
    const before = await readFile(at('letter.pdf'));
    const told = await kenosis('place', ...args.map((one) => (/\.(png|pdf|jpg)$/.test(one) ? at(one) : one)));
    expect(told.stderr).toContain(words);
    expect(told.code).toBe(code);
    await expect(readFile(at('x.pdf'))).rejects.toThrow();
    expect(Buffer.compare(await readFile(at('letter.pdf')), before)).toBe(0);
  });
});
