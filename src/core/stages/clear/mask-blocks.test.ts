import { describe, expect, it } from 'vitest';
import { newSample } from '../../cut/new-sample';
import type { Rect } from '../../raster/raster';
import { MaskBlocks } from './mask-blocks';

const [width, height] = [640, 480];
/** A disk stays, all around it goes. */
const levels = Uint16Array.from({ length: width * height }, (_, i) =>
  Math.hypot((i % width) - 300, Math.floor(i / width) - 240) < 190 ? 2000 : 0,
);
const map = { kind: 'reach', width, height, levels } as const;
const samples = [newSample('s1', 1, 1, { tolerance: 10 })];
const whole: Rect = { x: 0, y: 0, width, height };
const holds = (rect: Rect | null, x: number, y: number) =>
  rect !== null && x >= rect.x && x < rect.x + rect.width && y >= rect.y && y < rect.y + rect.height;

describe('MaskBlocks', () => {
  it.each([
    [0, 0, 640, 480],
    [0, 0, 200, 480],
    [250, 130, 97, 211],
    [500, 400, 140, 80],
  ])('parts a picture at %d, %d: %d x %d by what lies near a border', (x, y, w, h) => {
    const margin = 40;
    const { near, stays } = new MaskBlocks(whole, samples, [map], null, [], 0).divide(
      { x, y, width: w, height: h },
      margin,
    );
    let wrong = 0;
    for (let v = y; v < y + h; v++)
      for (let u = x; u < x + w; u++) {
        const stay = stays.filter((one) => holds(one, u, v)).length;
        const isNear = holds(near, u, v);
        const far = Math.hypot(u - 300, v - 240) - 190;
        if (stay + Number(isNear) > 1) wrong++;
        else if (Math.abs(far) < margin ? !isNear : far < 0 ? stay === 0 && !isNear : stay > 0) wrong++;
      }
    expect(wrong).toBe(0);
  });

  it('needs no look far from any border', () => {
    const blocks = new MaskBlocks(whole, samples, [map], null, [], 0);
    expect(blocks.divide({ x: 580, y: 420, width: 60, height: 60 }, 40)).toEqual({ near: null, stays: [] });
    expect(blocks.divide({ x: 270, y: 210, width: 60, height: 60 }, 40).near).toBeNull();
  });

  it('looks where pockets are kept and where somebody painted', () => {
    const kept = new Uint8Array(width * height);
    kept[450 * width + 610] = 1;
    const corner = { x: 580, y: 420, width: 60, height: 60 };
    expect(new MaskBlocks(whole, samples, [map], kept, [], 0).divide(corner, 40).near).not.toBeNull();
    // Strokes are in pixels of the original, of which the picture here is a half.
    const stroke = { radiusPx: 10, points: [[1220, 900] as [number, number]] };
    expect(new MaskBlocks(whole, samples, [map], null, [stroke], 1).divide(corner, 40).near).not.toBeNull();
  });
});
