import { describe, expect, it } from 'vitest';
import { outputIn } from './new-output';
import { AS_IT_IS, type Output } from './output-settings';
import { finishedName, plannedFiles } from './planned-files';

const wide = (px: number): Output => ({
  format: 'webp',
  quality: null,
  size: { ...AS_IT_IS, to: { kind: 'width', px } },
});
const filesOf = (fileName: string | null, outputs: Output[], colorways: string[] = [], piece = 'kite.jpg') =>
  plannedFiles(
    { deliver: { fileName, outputs }, ink: { colorways: colorways.map((name) => ({ name })) } },
    piece,
    '2026-11-30',
  );
const named = (fileName: string | null, outputs: Output[], colorways: string[] = []) =>
  filesOf(fileName, outputs, colorways).map(({ name }) => name);

describe('plannedFiles', () => {
  it.each<[string | null, Output[], string[], string[]]>([
    [null, [outputIn('png')], [], ['kite-cutout.png']],
    [null, [outputIn('png')], ['off white'], ['kite-cutout.png', 'kite-off-white.png']],
    [null, [outputIn('tiff'), outputIn('jpeg')], [], ['kite-cutout.tif', 'kite-cutout.jpg']],
    [null, [wide(400), wide(800)], [], ['kite-cutout-400w.webp', 'kite-cutout-800w.webp']],
    ['mine.png', [outputIn('png')], [], ['mine.png']],
    ['mine.png', [outputIn('avif')], ['navy'], ['mine.avif', 'mine-navy.avif']],
    [
      '{piece}_{colorway}_{date}',
      [outputIn('png')],
      ['navy'],
      ['kite__2026-11-30.png', 'kite_navy_2026-11-30.png'],
    ],
    ['{piece}-{number}', [outputIn('png')], ['white'], ['kite-1.png', 'kite-2-white.png']],
    ['{number}-{format}', [outputIn('png'), outputIn('gif')], [], ['1-png.png', '2-gif.gif']],
    ['same', [wide(400), wide(400)], [], ['same-400w.webp', 'same-400w-2.webp']],
    ['{piece}-{width}', [wide(400), wide(800)], [], ['kite-{width}.webp', 'kite-{width}.webp']],
    ['{nonsense}', [outputIn('png')], [], ['{nonsense}.png']],
    ['../up/{piece}', [outputIn('png')], [], ['upkite.png']],
    ['con', [outputIn('png')], [], ['_con.png']],
  ])('%s', (fileName, outputs, colorways, names) => {
    expect(named(fileName, outputs, colorways)).toEqual(names);
  });

  it('never gives a name twice, whatever the colorways', () => {
    const names = named('{piece}', [outputIn('png'), outputIn('png'), wide(3)], ['a', 'A']);
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
  });
});

describe('finishedName', () => {
  it('fills in the size that a file turned out to have', () => {
    const [planned] = filesOf('{width}x{height}', [outputIn('png')]);
    expect(finishedName(planned!, 30, 20)).toBe('30x20.png');
  });

  it('stays within what file systems take', () => {
    const [planned] = filesOf(null, [outputIn('tiff')], [], 'x'.repeat(400));
    expect(finishedName(planned!, 1, 1).length).toBeLessThanOrEqual(200);
  });
});
