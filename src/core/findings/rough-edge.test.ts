import { describe, expect, it } from 'vitest';
import { cutDisc, finished } from '../../../tests/make/cutouts';
import { paint } from '../../../tests/make/pictures';
import { untouchedCut } from '../cut/parse';
import { runToEnd } from '../numeric/steps';
import { evenEdges, findRoughEdges } from './rough-edge';
import type { Raster } from '../raster/raster';

const SAME = (x: number, y: number) => ({ x, y });
const BEARINGS = { toOriginal: SAME, toCutout: SAME };
const find = (raster: Raster) => runToEnd(findRoughEdges(finished(raster)));
const hard = (raster: Raster) =>
  paint(raster.width, raster.height, (x, y) => {
    const p = (y * raster.width + x) * 4;
    return [140, 30, 40, raster.data[p + 3]! >= 128 ? 255 : 0];
  });

describe('findRoughEdges', () => {
  it('finds the stair-steps of an edge without a transition', () => {
    expect(find(hard(cutDisc(160)))).toMatchObject({ kind: 'rough-edge', severity: 'doubt' });
  });

  it.each([
    ['an edge with a transition', cutDisc(160)],
    [
      'straight edges along the pixels',
      paint(90, 90, (x, y) => [1, 2, 3, x > 20 && x < 70 && y > 9 && y < 80 ? 255 : 0]),
    ],
    ['a full picture', paint(90, 90, () => [1, 2, 3, 255])],
  ])('says nothing of %s', (_name, raster) => {
    expect(find(raster)).toBeNull();
  });

  it('is put right by the mixture first, then by evenness', () => {
    const off = { ...untouchedCut(), edge: { ...untouchedCut().edge, on: false } };
    const on = evenEdges(off, [], BEARINGS);
    expect(on.edge).toMatchObject({ on: true, evenness: 0 });
    expect(evenEdges(on, [], BEARINGS).edge.evenness).toBe(60);
  });
});
