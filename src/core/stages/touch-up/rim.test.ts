import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../numeric/random';
import { createRaster, tilesOf, wholeOf } from '../../raster/raster';
import { Insides, isRim, rimWithin } from './rim';

const random = seededRandom(5);
const picture = createRaster(61, 47);
for (let i = 0; i < 61 * 47; i++) {
  const inside = (i % 61) % 23 < 15 && Math.floor(i / 61) % 19 < 13;
  const alpha = inside ? (random() < 0.03 ? 10 : 255) : random() < 0.05 ? 200 : 0;
  picture.data.set([Math.round(random() * 255), Math.round(random() * 255), 40, alpha], i * 4);
}
const alpha = Uint8Array.from({ length: 61 * 47 }, (_, i) => picture.data[i * 4 + 3]!);

describe('the rim of a cutout', () => {
  it.each([7, 16, 61])('is the same, pixel by pixel or in parts of %d', (side) => {
    const one = tilesOf(wholeOf(picture), side).flatMap((tile) =>
      rimWithin({ data: alpha, width: 61, height: 47 }, tile),
    );
    const other = [...alpha.keys()].filter((i) => isRim(picture, i % 61, Math.floor(i / 61)));
    expect(one.sort((a, b) => a - b)).toEqual(other);
    expect(other.length).toBeGreaterThan(200);
  });

  it('has the color of the inside near it, whatever was asked before', () => {
    const solid = createRaster(40, 40);
    for (let i = 0; i < 1600; i++) if (i % 40 > 9) solid.data.set([200, 100, 50, 255], i * 4);
    const insides = new Insides(solid);
    expect(insides.colorAt(10, 20)).toEqual({ red: 200, green: 100, blue: 50 });
    expect(insides.colorAt(1, 20)).toBeNull();
    expect(insides.colorAt(10, 20)).toEqual({ red: 200, green: 100, blue: 50 });
  });
});
