import { describe, expect, it } from 'vitest';
import { disc, noise, outOfFocus } from '../../tests/make/pictures';
import { newSample } from './cut/new-sample';
import { untouchedCut } from './cut/parse';
import { packCutout, unpackCutout } from './packed-cutout';
import { createRaster, wholeOf, type Raster } from './raster/raster';
import { renderCut, type Cutout } from './render';
import { removeHiddenColor } from './stages/deliver/finish';

const cutOf = (picture: Raster): Cutout =>
  renderCut(picture, {
    ...untouchedCut(),
    clear: { ...untouchedCut().clear, samples: [newSample('s1', 2, 2, { areaPx: 3, tolerance: 12 })] },
  });

/** A cutout of those pixels, as they are. */
function cutoutOf(raster: Raster): Cutout {
  const alpha = removeHiddenColor(raster, 0, raster.width * raster.height);
  return { raster, alpha, alike: [] };
}

describe('a packed cutout', () => {
  it('comes back pixel for pixel, with what was counted', () => {
    for (const picture of [disc(121, 40), outOfFocus(160, 2)]) {
      const cutout = cutOf(picture);
      const packed = packCutout(cutout, picture, wholeOf(picture))!;
      expect(packed.length).toBeLessThan(picture.data.length / 4);
      expect(unpackCutout(packed, picture, wholeOf(picture))).toEqual(cutout);
    }
  });

  it('comes back from a part of the picture, with runs over the ends of its rows and of all kinds', () => {
    const picture = noise(90, 70);
    const window = { x: 7, y: 11, width: 61, height: 43 };
    const raster = createRaster(61, 43);
    for (let y = 0; y < 43; y++)
      for (let x = 0; x < 61; x++) {
        const [p, q] = [(y * 61 + x) * 4, ((y + 11) * 90 + x + 7) * 4];
        const i = y * 61 + x;
        raster.data.set(picture.data.subarray(q, q + 4), p);
        if (i % 1000 > 700) raster.data.fill(0, p, p + 4);
        else if (i % 1000 > 620) raster.data.set([i % 256, 3, 5, 1 + (i % 254)], p);
      }
    const cutout = cutoutOf(raster);
    expect(unpackCutout(packCutout(cutout, picture, window)!, picture, window)).toEqual(cutout);
  });

  it('is not made where nearly every pixel has another color', () => {
    const picture = noise(50, 50);
    const other = cutoutOf({ ...noise(50, 50, 2) });
    expect(packCutout(other, picture, wholeOf(picture))).toBeNull();
  });

  it('is refused where its bytes are another picture’s, cut short, or anything else', () => {
    const picture = disc(61, 20);
    const window = wholeOf(picture);
    const packed = packCutout(cutOf(picture), picture, window)!;
    const refused = (bytes: Uint8Array, part = window) =>
      expect(() => unpackCutout(bytes, picture, part)).toThrow(/kept cutout/);
    refused(packed, { ...window, width: 60 });
    for (let end = 0; end < packed.length; end++) refused(packed.subarray(0, end));
    refused(Uint8Array.of(...packed, 4));
    refused(Uint8Array.of(...packed, 128, 128, 128, 128, 128, 128, 128, 128));
    refused(new Uint8Array(400));
    refused(new Uint8Array(400).fill(255));
    refused(packed.with(0, 1));
  });
});
