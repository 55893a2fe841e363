import { describe, expect, it } from 'vitest';
import { cutDisc, finished } from '../../../tests/make/cutouts';
import { paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { findHalo, LIKELY_BACKGROUNDS, type BackgroundAt } from './halo';
import type { Raster } from '../raster/raster';

const WHITE: readonly BackgroundAt[] = [() => ({ red: 255, green: 255, blue: 255 })];
const find = (raster: Raster, backgrounds = WHITE) => runToEnd(findHalo(finished(raster), backgrounds));

/** A disc whose edge passes over four pixels. */
const softDisc = ([red, green, blue]: readonly [number, number, number]) =>
  paint(160, 160, (x, y) => {
    const alpha = Math.round(255 * Math.min(1, Math.max(0, (42 - Math.hypot(x - 80, y - 80)) / 4)));
    return alpha === 0 ? [0, 0, 0, 0] : [red, green, blue, alpha];
  });

/** The disc with the background left in every pixel's color by its share. */
function glowing(raster: Raster, background: readonly [number, number, number]): Raster {
  return paint(raster.width, raster.height, (x, y) => {
    const [red, green, blue, alpha] = raster.data.subarray((y * raster.width + x) * 4);
    if (alpha === 0) return [0, 0, 0, 0];
    const mixed = (own: number, c: number) =>
      Math.round((own * alpha!) / 255 + background[c]! * (1 - alpha! / 255));
    return [mixed(red!, 0), mixed(green!, 1), mixed(blue!, 2), alpha!];
  });
}

describe('findHalo', () => {
  it('measures old background in the edge and says which it was', () => {
    const found = find(glowing(cutDisc(160), [255, 255, 255]))!;
    expect(found).toMatchObject({ kind: 'halo', severity: 'fault' });
    expect(found.amount).toBeGreaterThan(3);
    expect(found.places[0]!.background).toBe('#ffffff');
  });

  it('takes the likelier of several backgrounds', () => {
    const likely = (own: [number, number, number], color: [number, number, number]) =>
      find(glowing(softDisc(own), color), LIKELY_BACKGROUNDS)?.places[0]?.background;
    expect(likely([140, 30, 40], [255, 255, 255])).toBe('#ffffff');
    expect(likely([200, 220, 235], [0, 0, 0])).toBe('#000000');
  });

  it('shows on what it is laid on: on black as on its contrast, on the old background less, though the edge is thinner there too', () => {
    const faulty = finished(glowing(cutDisc(160), [255, 255, 255]));
    const on = (tone: number) =>
      runToEnd(findHalo(faulty, WHITE, () => ({ red: tone, green: tone, blue: tone })));
    expect(on(0)!.amount).toBe(runToEnd(findHalo(faulty, WHITE))!.amount);
    expect(on(255)!.amount!).toBeLessThan(on(0)!.amount!);
  });

  it('grows with the share that is left', () => {
    const light = find(glowing(cutDisc(160), [210, 190, 190]))?.amount ?? 0;
    const full = find(glowing(cutDisc(160), [255, 255, 255]))!.amount!;
    expect(full).toBeGreaterThan(light);
  });

  it.each([
    ['a clean disc', cutDisc(160)],
    ['a halo of another background', glowing(cutDisc(160), [0, 120, 0])],
    [
      'a body that is shaded toward its rim',
      paint(160, 160, (x, y) => {
        const far = Math.hypot(x - 80, y - 80);
        const alpha = Math.round(255 * Math.min(1, Math.max(0, 50.5 - far)));
        const tone = 90 + far;
        return alpha === 0 ? [0, 0, 0, 0] : [tone, tone * 0.7, tone * 0.5, alpha];
      }),
    ],
    [
      'a dark drawing with fine white lines just within its rim',
      paint(160, 160, (x, y) => {
        const far = Math.hypot(x - 80, y - 80);
        const alpha = Math.round(255 * Math.min(1, Math.max(0, 50.5 - far)));
        const tone = far > 41 && far < 47.5 ? 250 : 30;
        return alpha === 0 ? [0, 0, 0, 0] : [tone, tone, tone, alpha];
      }),
    ],
    [
      'a round body whose rim lies in its own shade',
      paint(160, 160, (x, y) => {
        const far = Math.hypot(x - 80, y - 80);
        const alpha = Math.round(255 * Math.min(1, Math.max(0, (51.5 - far) / 2)));
        const light = Math.max(0.25, 1 - Math.max(0, far - 40) / 10);
        return alpha === 0 ? [0, 0, 0, 0] : [220 * light, 150 * light, 60 * light, alpha];
      }),
    ],
    ['thin strokes, which have no inside', paint(80, 80, (x) => [30, 30, 30, x % 12 < 2 ? 255 : 0])],
  ])('says nothing of %s', (_name, raster) => {
    expect(find(raster)).toBeNull();
    expect(find(raster, LIKELY_BACKGROUNDS)).toBeNull();
  });
});
