import { describe, expect, it } from 'vitest';
import { paint } from '../../../../tests/make/pictures';
import { newSample } from '../../cut/new-sample';
import { untouchedCut } from '../../cut/parse';
import { runToEnd } from '../../numeric/steps';
import type { Raster } from '../../raster/raster';
import { sceneOf } from '../../scene/scene';
import { idleSamples, reachOfSample } from './clear';
import { findPockets } from './pockets';

function pocketsOf(raster: Raster, tolerance = 8) {
  const scene = sceneOf(raster);
  const sample = newSample('s1', 1, 1, { tolerance });
  const map = (reach: 'joined' | 'everywhere') =>
    runToEnd(reachOfSample(scene, { ...sample, reach }, untouchedCut(), new Map()));
  const everywhere = map('everywhere');
  return findPockets(raster, map('joined'), everywhere, everywhere, tolerance);
}

/** White, with dark rings around two holes of 12 and 6 px radius and a shine that fades into a third. */
const rings = paint(160, 80, (x, y) => {
  const one = Math.hypot(x - 40, y - 40);
  const two = Math.hypot(x - 90, y - 40);
  const three = Math.hypot(x - 130, y - 40);
  if (one < 26 && one >= 12) return [30, 60, 90];
  if (two < 16 && two >= 6) return [30, 60, 90];
  if (three < 24) {
    const shine = Math.max(0, 1 - three / 22);
    return [30 + 225 * shine, 60 + 195 * shine, 90 + 165 * shine].map(Math.round) as [number, number, number];
  }
  return [255, 255, 255];
});

describe('findPockets', () => {
  it('finds what looks like the background and is enclosed, largest first', () => {
    const [large, small] = pocketsOf(rings);
    expect(large).toMatchObject({ x: 40, y: 40 });
    expect(Math.abs(large!.pixels - Math.PI * 144)).toBeLessThan(20);
    expect(large!.box).toEqual([29, 29, 51, 51]);
    expect(small).toMatchObject({ x: 90, y: 40 });
  });

  it('knows its own pixels', () => {
    const [large, small] = pocketsOf(rings);
    expect(large!.contains(45, 38)).toBe(true);
    expect(large!.contains(90, 40)).toBe(false);
    expect(small!.contains(90, 40)).toBe(true);
    expect(large!.contains(2, 2)).toBe(false);
  });

  it('finds none where everything is joined, and passes over crumbs', () => {
    expect(pocketsOf(paint(30, 30, () => [255, 255, 255]))).toEqual([]);
    const crumb = paint(30, 30, (x, y) =>
      Math.abs(x - 15) < 6 && Math.abs(y - 15) < 6
        ? x === 15 && y === 15
          ? [255, 255, 255]
          : [0, 0, 0]
        : [255, 255, 255],
    );
    expect(pocketsOf(crumb)).toEqual([]);
  });
});

describe('idleSamples', () => {
  const halves = paint(40, 20, (x) => (x < 20 ? [255, 255, 255] : [20, 20, 200]));
  const maps = (...samples: ReturnType<typeof newSample>[]) =>
    samples.map((sample) => runToEnd(reachOfSample(sceneOf(halves), sample, untouchedCut(), new Map())));

  it('names a sample without which the same would be cleared', () => {
    const left = newSample('left', 3, 3, { tolerance: 5 });
    const same = newSample('same', 10, 10, { tolerance: 3 });
    const right = newSample('right', 30, 3, { tolerance: 5 });
    expect(idleSamples([left, right], maps(left, right))).toEqual([]);
    expect(idleSamples([left, same, right], maps(left, same, right))).toEqual(['left', 'same']);
    expect(idleSamples([left], maps(left))).toEqual([]);
    expect(idleSamples([], [])).toEqual([]);
  });
});
