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

  it('has the same color of the inside in whatever order places are asked about', () => {
    const thick = createRaster(61, 47);
    for (let i = 0; i < 61 * 47; i++) {
      const isIn = (i % 61) % 31 < 17 && Math.floor(i / 61) % 23 < 14;
      thick.data.set([i % 256, (i * 7) % 256, 40, isIn && random() > 0.01 ? 255 : 20], i * 4);
    }
    const walked = new Insides(thick);
    const jumped = new Insides(thick);
    let [found, off] = [0, 0];
    for (let i = 0; i < 61 * 47; i++) {
      const alone = JSON.stringify(new Insides(thick).colorAt(i % 61, Math.floor(i / 61)));
      if (alone !== 'null') found++;
      if (JSON.stringify(walked.colorAt(i % 61, Math.floor(i / 61))) !== alone) off++;
      jumped.colorAt(Math.floor(61 * random()), Math.floor(47 * random()));
      if (JSON.stringify(jumped.colorAt(i % 61, Math.floor(i / 61))) !== alone) off++;
    }
    expect(found).toBeGreaterThan(1000);
    expect(off).toBe(0);
  });

  it('is told by what comes nearer beside the square that was looked at, too', () => {
    const two = createRaster(60, 60);
    const lay = (left: number, top: number, red: number) => {
      for (let y = top; y < top + 7; y++)
        for (let x = left; x < left + 7; x++) two.data.set([red, 0, 0, 255], (y * 60 + x) * 4);
    };
    // Insides of 3 x 3: one in the corner of what is seen from 20,20, one just beside it.
    lay(25, 25, 200);
    lay(26, 17, 100);
    const walked = new Insides(two);
    for (let x = 20; x < 26; x++) expect(walked.colorAt(x, 20)).toEqual(new Insides(two).colorAt(x, 20));
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
