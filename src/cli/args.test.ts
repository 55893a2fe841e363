import { describe, expect, it } from 'vitest';
import { readArguments } from './args';

/** What was said of files where nothing was. */
const NO_WISHES = {
  set: null,
  name: null,
  size: null,
  trim: false,
  padding: null,
  quality: null,
  matte: null,
  threshold: null,
  bleed: false,
  credit: { author: '', copyright: '', description: '' },
};

describe('readArguments', () => {
  it('reads everything', () => {
    expect(
      readArguments(
        'cut in.jpg -o out.png --sample 3,4 --sample 5,6,12.5 --sample 7,8,0,everywhere --keep 9,10 --width 4 --spill 80 --offset -0.3 --softness 2 --evenness 50 --firmness 10.5 --cut a.json --save-cut b.json --report r.json --damaged accept'.split(
          ' ',
        ),
      ),
    ).toEqual({
      command: 'cut',
      input: 'in.jpg',
      output: 'out.png',
      samples: [
        { x: 3, y: 4, tolerance: null, reach: 'joined' },
        { x: 5, y: 6, tolerance: 12.5, reach: 'joined' },
        { x: 7, y: 8, tolerance: 0, reach: 'everywhere' },
      ],
      marksFile: null,
      enclosed: null,
      sure: false,
      keeps: [{ x: 9, y: 10 }],
      explain: false,
      settings: {
        edge: { widthPx: 4, spill: 80, offsetPx: -0.3, softnessPx: 2, evenness: 50, firmness: 10.5 },
      },
      method: null,
      channel: null,
      ink: null,
      light: false,
      colorways: [],
      autoCrop: false,
      autoStraighten: false,
      cutFile: 'a.json',
      saveCutFile: 'b.json',
      reportFile: 'r.json',
      damaged: 'accept',
      pages: { number: null, dpi: null },
      wishes: NO_WISHES,
    });
  });

  it('reads several pictures and their folder, each with a name of its own there', () => {
    const read = readArguments('cut a/one.jpg two.tiff -o out --jobs 3 --keep 1,2'.split(' '));
    expect(read).toMatchObject({
      command: 'cut-many',
      folder: 'out',
      jobs: 3,
      pictures: [
        { input: 'a/one.jpg', output: 'out/one-cutout.png', keeps: [{ x: 1, y: 2 }] },
        { input: 'two.tiff', output: 'out/two-cutout.png', keeps: [{ x: 1, y: 2 }] },
      ],
    });
  });

  it('reads what concerns ink', () => {
    const line =
      'cut in.jpg -o out.png --method ink --channel yellow-blue --ink #1D2A6B --density 30 --light --auto-crop --auto-straighten --colorway navy=#1d2a6b --colorway off.white=#ffffff';
    expect(readArguments(line.split(' '))).toMatchObject({
      method: 'ink',
      channel: 'yellow-blue',
      ink: '#1d2a6b',
      settings: { ink: { density: 30 } },
      light: true,
      autoCrop: true,
      autoStraighten: true,
      colorways: [
        { name: 'navy', color: '#1d2a6b' },
        { name: 'off.white', color: '#ffffff' },
      ],
    });
    expect(readArguments('cut in.jpg -o out.png --method ink --channel best'.split(' '))).toMatchObject({
      channel: null,
    });
  });

  it('reads what concerns checking', () => {
    const line = 'check a.png --background #FFFFFF --background #00aa00 --ignore speck --report r.json';
    expect(readArguments(line.split(' '))).toEqual({
      command: 'check',
      input: 'a.png',
      backgrounds: ['#ffffff', '#00aa00'],
      ignored: ['speck'],
      reportFile: 'r.json',
      damaged: 'refuse',
      pages: { number: null, dpi: null },
    });
  });

  it('asks for an explanation beside nothing else', () => {
    expect(readArguments('cut in.jpg -o out.png --explain --keep 1,2'.split(' '))).toMatchObject({
      explain: true,
    });
  });

  it.each([
    ['check', /FILE: expected one picture/],
    ['check a.png b.png', /FILE: expected one picture/],
    ['check a.png --background white', /--background: expected a color/],
    ['check a.png --ignore dust', /--ignore: expected one of frame, .*residue.*got dust/],
    ['check a.png --sample 3,4', /sample/],
    ['cut -o out.png', /IN: expected one picture/],
    ['cut a.jpg b.jpg -o out.png', /-o: expected a folder for 2 pictures, got out.png/],
    ['cut a.jpg - -o out', /IN: expected named pictures for a folder, got -/],
    ['cut a.jpg b.jpg -o out --save-cut c.json', /--save-cut and --report: expected one picture, got 2/],
    ['cut a.jpg -o out --jobs 65', /--jobs: expected 1 to 64, got 65/],
    ['cut in.jpg', /-o: expected/],
    ['cut a.pdf -o out.png --page 0', /--page: expected a number from 1 on, got 0/],
    ['cut a.pdf -o out.png --drawn-dpi fine', /--drawn-dpi: expected a whole number, got fine/],
    ['cut a.jpg -o out.png --size 80', /--size: expected 800w, 600h, 2x, 2000x2000 or 85mm@300, got 80/],
    ['cut a.jpg -o out.png --size 99999w', /--size: expected 1 to 20000, got 99999/],
    ['cut a.jpg -o out.png --size 17x', /--size: expected 0.01 to 16, got 17/],
    ['cut a.jpg -o out.png --anchor top', /--anchor: expected a canvas beside it.*got nothing/],
    ['cut a.jpg -o out.png --size 9x9 --anchor middle', /--anchor: expected one of top-left.*got middle/],
    ['cut a.jpg -o out.png --padding 1,2', /--padding: expected 10, 3mm, 5% or T,R,B,L.*got 1,2/],
    ['cut a.jpg -o out.png --padding 3cm', /--padding: .*got 3cm/],
    ['cut a.jpg -o out.png --quality 80', /--quality: expected WebP, AVIF, JPEG, got PNG/],
    ['cut a.jpg -o out.webp --quality 101', /--quality: expected 1 to 100, got 101/],
    ['cut a.jpg -o out.png --matte #ffffff', /--matte: expected GIF, JPEG, got PNG/],
    ['cut a.jpg -o out.gif --matte white', /--matte: expected a color/],
    ['cut a.jpg -o out.jpg --threshold 9', /--threshold: expected GIF, got JPEG/],
    ['cut a.jpg -o out.gif --threshold 0', /--threshold: expected 1 to 255, got 0/],
    ['cut a.jpg -o out.jpg --bleed', /--bleed: expected PNG, WebP, AVIF, TIFF, ICO, got JPEG/],
    ['cut a.jpg -o out.gif --author Maren', /--author, .*: expected PNG, .*PDF, got GIF/],
    ['cut a.jpg -o out.ico --size 2x', /--size: expected another format than ICO, got ICO/],
    ['cut a.jpg -o out.png --set site', /-o: expected a folder for the files of a set, got out.png/],
    ['cut a.jpg -o out --set site --size 2x', /--size: expected no --set beside it/],
    ['cut a.jpg -o out --set site --trim', /--trim: expected no --set beside it/],
    ['cut a.jpg -o out.png --name {piece}', /--name: expected --set beside it, got nothing/],
    ['cut in.jpg -o out.png --sample 3', /--sample: expected X,Y/],
    ['cut in.jpg -o out.png --sample 3.5,4', /--sample: expected X,Y/],
    ['cut in.jpg -o out.png --sample 3,4,140', /tolerance: expected 0 to 100, got 140/],
    ['cut in.jpg -o out.png --sample 3,4,5,nearby', /reach: expected joined or everywhere, got nearby/],
    ['cut in.jpg -o out.png --keep 3', /--keep: expected X,Y, got 3/],
    ['cut in.jpg -o out.png --explain --sample 3,4', /--explain: expected a proposed cut/],
    ['cut in.jpg -o out.png --explain --cut a.json', /--explain: expected a proposed cut/],
    ['cut in.jpg -o out.png --width 0', /--width: expected a whole number from 1 to 12, got 0/],
    ['cut in.jpg -o out.png --width 2.5', /--width: expected a whole number from 1 to 12, got 2.5/],
    ['cut in.jpg -o out.png --spill 101', /--spill: expected 0 to 100, got 101/],
    ['cut in.jpg -o out.png --offset wide', /--offset: expected -20 to 20, got wide/],
    ['cut in.jpg -o out.png --softness 41', /--softness: expected 0 to 40, got 41/],
    ['cut in.jpg -o out.png --evenness=-1', /--evenness: expected 0 to 100, got -1/],
    ['cut in.jpg -o out.png --firmness 1e2', /--firmness: expected 0 to 100, got 1e2/],
    ['cut in.jpg -o out.png --method magic', /--method: expected color or ink, got magic/],
    ['cut in.jpg -o out.png --channel red', /--channel: expected --method ink beside it/],
    ['cut in.jpg -o out.png --method ink --channel teal', /--channel: expected best or one of/],
    ['cut in.jpg -o out.png --method ink --sample 3,4', /--sample: expected no --method ink/],
    [
      'cut in.jpg -o out.png --method color --auto-crop',
      /--auto-crop and --auto-straighten: expected writing/,
    ],
    ['cut in.jpg -o out.png --cut a.json --auto-crop', /expected a proposed cut, so not --cut/],
    ['cut in.jpg -o out.png --ink navy', /--ink: expected a color like #1d2a6b, got navy/],
    ['cut in.jpg -o out.png --density 120', /--density: expected 0 to 100, got 120/],
    ['cut in.jpg -o out.png --colorway navy', /--colorway: expected a color/],
    ['cut in.jpg -o out.png --colorway ../x=#ffffff', /--colorway: expected NAME=#RRGGBB/],
    [
      'cut in.jpg -o out.png --colorway a=#ffffff --colorway a=#000000',
      /--colorway: expected each name once, got a/,
    ],
    ['cut in.jpg -o out.png --colorway a.b=#ffffff --colorway A.B=#000000', /each name once, got A\.B/],
    ['cut in.jpg -o out.png --sparkle', /sparkle/],
  ])('refuses "%s"', (line, message) => {
    expect(() => readArguments(line === '' ? [] : line.split(' '))).toThrow(message);
  });

  it.each([
    ['800w', { kind: 'width', px: 800 }],
    ['600h', { kind: 'height', px: 600 }],
    ['0.5x', { kind: 'scale', factor: 0.5 }],
    ['2000x1500', { kind: 'canvas', widthPx: 2000, heightPx: 1500, anchor: 'center' }],
    ['85.5mm@300', { kind: 'print', widthMm: 85.5, dpi: 300 }],
  ])('reads the size %s', (said, size) => {
    expect(readArguments(['cut', 'a.jpg', '-o', 'a.tif', '--size', said])).toMatchObject({
      wishes: { size },
    });
  });

  it.each([
    ['12', { top: 12, right: 12, bottom: 12, left: 12, unit: 'px' }],
    ['3.5mm', { top: 3.5, right: 3.5, bottom: 3.5, left: 3.5, unit: 'mm' }],
    ['1,2,3,4%', { top: 1, right: 2, bottom: 3, left: 4, unit: '%' }],
  ])('reads the padding %s', (said, padding) => {
    expect(readArguments(['cut', 'a.jpg', '-o', 'a.tif', '--padding', said])).toMatchObject({
      wishes: { padding },
    });
  });
});
