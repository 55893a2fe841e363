import { describe, expect, it } from 'vitest';
import { outputIn } from './new-output';
import { AS_IT_IS, type Output } from './output-settings';
import { finishedName, plannedFiles } from './planned-files';

const wide = (px: number): Output => ({
  format: 'webp',
  quality: null,
  size: { ...AS_IT_IS, to: { kind: 'width', px } },
});
const named = (fileName: string | null, outputs: Output[], colorways: (string | null)[] = [null]) =>
  plannedFiles({ fileName, outputs }, colorways, 'kite.jpg', '2026-11-30').map(({ name }) => name);

describe('plannedFiles', () => {
  it.each<[string | null, Output[], (string | null)[], string[]]>([
    [null, [outputIn('png')], [null], ['kite-cutout.png']],
    [null, [outputIn('png')], [null, 'off white'], ['kite-cutout.png', 'kite-off-white.png']],
    [null, [outputIn('tiff'), outputIn('jpeg')], [null], ['kite-cutout.tif', 'kite-cutout.jpg']],
    [null, [wide(400), wide(800)], [null], ['kite-cutout-400w.webp', 'kite-cutout-800w.webp']],
    ['mine.png', [outputIn('png')], [null], ['mine.png']],
    ['mine.png', [outputIn('avif')], ['navy'], ['mine-navy.avif']],
    ['{piece}_{colorway}_{date}', [outputIn('png')], ['navy'], ['kite_navy_2026-11-30.png']],
    ['{number}-{format}', [outputIn('png'), outputIn('gif')], [null], ['1-png.png', '2-gif.gif']],
    ['same', [wide(400), wide(400)], [null], ['same-400w.webp', 'same-400w-2.webp']],
    ['{piece}-{width}', [wide(400), wide(800)], [null], ['kite-{width}.webp', 'kite-{width}.webp']],
    ['{nonsense}', [outputIn('png')], [null], ['{nonsense}.png']],
    ['../up/{piece}', [outputIn('png')], [null], ['upkite.png']],
    ['con', [outputIn('png')], [null], ['_con.png']],
  ])('%s', (fileName, outputs, colorways, names) => {
    expect(named(fileName, outputs, colorways)).toEqual(names);
  });

  it('never gives a name twice, whatever the colorways', () => {
    const names = named('{piece}', [outputIn('png'), outputIn('png'), wide(3)], [null, 'a', 'A']);
    expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
  });
});

describe('finishedName', () => {
  it('fills in the size that a file turned out to have', () => {
    const [planned] = plannedFiles(
      { fileName: '{width}x{height}', outputs: [outputIn('png')] },
      [null],
      'a',
      '',
    );
    expect(finishedName(planned!, 30, 20)).toBe('30x20.png');
  });

  it('stays within what file systems take', () => {
    const [planned] = plannedFiles(
      { fileName: null, outputs: [outputIn('tiff')] },
      [null],
      'x'.repeat(400),
      '',
    );
    expect(finishedName(planned!, 1, 1).length).toBeLessThanOrEqual(200);
  });
});
