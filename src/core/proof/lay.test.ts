import { describe, expect, it } from 'vitest';
import { blotches, paint } from '../../../tests/make/pictures';
import { runToEnd } from '../numeric/steps';
import { createRaster, type Raster } from '../raster/raster';
import { edgeContrast, contrastOf } from './contrast';
import { colorGround, drawnSteps, layAllSteps, layOn, type Layer } from './lay';

const WHITE = { red: 255, green: 255, blue: 255 };
const white = (width = 80, height = 60) => colorGround({ from: WHITE, to: null, angleDeg: 0 }, width, height);

const layer = (cutout: Raster, more: Partial<Layer> = {}): Layer => ({
  cutout,
  box: { x: 10, y: 8, width: cutout.width, height: cutout.height },
  angleDeg: 0,
  opacity: 100,
  blend: 'normal',
  ...more,
});

const laid = (ground: Raster, ...layers: Layer[]) => {
  runToEnd(layAllSteps(ground, layers));
  return ground;
};

const colorAt = ({ data, width }: Raster, x: number, y: number) => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 3),
];

/** How much a raster has of a cutout, and where its middle is. */
function centerOf({ data, width, height }: Raster) {
  let [sum, across, down] = [0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const share = 1 - data[(y * width + x) * 4]! / 255;
      sum += share;
      across += share * (x + 0.5);
      down += share * (y + 0.5);
    }
  return { sum, x: across / sum, y: down / sum };
}

describe('laying a cutout on a ground', () => {
  it('changes no pixel of it at its own size on whole pixels', () => {
    const cutout = paint(12, 9, (x, y) => [x * 20, y * 25, 90, 255]);
    const ground = laid(white(), layer(cutout));
    for (let y = 0; y < 9; y++)
      for (let x = 0; x < 12; x++) expect(colorAt(ground, 10 + x, 8 + y)).toEqual([x * 20, y * 25, 90]);
    expect(colorAt(ground, 9, 8)).toEqual([255, 255, 255]);
    expect(colorAt(ground, 22, 16)).toEqual([255, 255, 255]);
  });

  it('mixes by alpha and opacity, and multiplies as ink on paper', () => {
    const cutout = paint(4, 4, () => [100, 50, 200, 128]);
    const gray = () =>
      colorGround({ from: { red: 120, green: 200, blue: 40 }, to: null, angleDeg: 0 }, 20, 20);
    const at = { box: { x: 2, y: 2, width: 4, height: 4 } };
    const share = (128 / 255) * 0.5;
    const mixed = (color: number, below: number) => Math.round(color * share + below * (1 - share));
    expect(colorAt(laid(gray(), layer(cutout, { ...at, opacity: 50 })), 3, 3)).toEqual([
      mixed(100, 120),
      mixed(50, 200),
      mixed(200, 40),
    ]);
    expect(colorAt(laid(gray(), layer(cutout, { ...at, opacity: 50, blend: 'multiply' })), 3, 3)).toEqual([
      mixed((100 * 120) / 255, 120),
      mixed((50 * 200) / 255, 200),
      mixed((200 * 40) / 255, 40),
    ]);
  });

  it('keeps area and middle at parts of pixels, at any size and angle', () => {
    const cutout = paint(60, 30, () => [0, 0, 0]);
    for (const [x, width, angleDeg] of [
      [10.3, 40.7, 0],
      [12.75, 21.4, 33],
      [8.1, 55.2, -71],
      [14.6, 9.3, 180],
      [9.5, 90.2, 15],
    ] as const) {
      const ground = white(140, 120);
      const box = { x: x + 20, y: 40.35, width, height: width / 2 };
      laid(ground, layer(cutout, { box, angleDeg }));
      const found = centerOf(ground);
      expect(found.sum / (width * (width / 2))).toBeCloseTo(1, 1);
      expect(found.x).toBeCloseTo(box.x + width / 2, 0);
      expect(Math.abs(found.x - (box.x + width / 2))).toBeLessThan(0.06);
      expect(Math.abs(found.y - (box.y + width / 4))).toBeLessThan(0.06);
    }
  });

  it('brings no color out of what is transparent', () => {
    const cutout = paint(40, 40, (x) => (x < 20 ? [200, 30, 30, 255] : [0, 255, 0, 0]));
    const { raster } = runToEnd(
      drawnSteps(
        layer(cutout, { box: { x: 5.4, y: 5.7, width: 17.3, height: 17.3 }, angleDeg: 21 }),
        white(),
      ),
    );
    for (let p = 0; p < raster.data.length; p += 4)
      if (raster.data[p + 3]! > 0) expect(raster.data[p + 1]).toBeLessThan(40);
  });

  it('draws only what lies on the ground, also where a piece is far larger or beside it', () => {
    const cutout = blotches(30, 20, 4);
    const huge = runToEnd(
      drawnSteps(layer(cutout, { box: { x: -4000, y: -3000, width: 9000, height: 6000 } }), white()),
    );
    expect(huge.raster.width).toBe(80);
    expect(huge.raster.height).toBe(60);
    const beside = runToEnd(
      drawnSteps(layer(cutout, { box: { x: 500, y: 8, width: 30, height: 20 } }), white()),
    );
    const ground = white();
    layOn(ground, beside, { opacity: 100, blend: 'normal' });
    expect(ground.data).toEqual(white().data);
  });

  it('goes over from color to color along a direction', () => {
    const to = { red: 0, green: 0, blue: 0 };
    const across = colorGround({ from: WHITE, to, angleDeg: 0 }, 100, 10);
    expect(colorAt(across, 0, 5)[0]).toBeGreaterThan(250);
    expect(colorAt(across, 50, 5)[0]).toBeCloseTo(126, -1);
    expect(colorAt(across, 99, 5)[0]).toBeLessThan(5);
    const down = colorGround({ from: WHITE, to, angleDeg: 90 }, 10, 100);
    expect(colorAt(down, 5, 99)[0]).toBeLessThan(5);
  });
});

describe('contrast along the edge', () => {
  const gray = (value: number) => ({ red: value, green: value, blue: value });
  const disc = (color: readonly [number, number, number]) =>
    paint(60, 60, (x, y) => [...color, Math.hypot(x - 29.5, y - 29.5) < 24 ? 255 : 0]);

  // Published: black on white has 21, #767676 on white 4.54, #959595 on white 2.99 (WCAG 2.2, relative luminance).
  it.each([
    [[0, 0, 0], 255, 21],
    [[118, 118, 118], 255, 4.54],
    [[149, 149, 149], 255, 2.99],
    [[255, 255, 255], 0, 21],
    [[200, 200, 200], 200, 1],
  ] as const)('is that of WCAG: %s on %s', (color, ground, expected) => {
    const below = colorGround({ from: gray(ground), to: null, angleDeg: 0 }, 100, 100);
    const one = layer(disc(color), { box: { x: 20, y: 20, width: 60, height: 60 } });
    const found = edgeContrast(below, runToEnd(drawnSteps(one, below)), one);
    expect(found!.median).toBeCloseTo(expected, 1);
  });

  it('counts opacity, and knows nothing of a piece beside the ground', () => {
    const below = colorGround({ from: gray(255), to: null, angleDeg: 0 }, 100, 100);
    const one = layer(disc([0, 0, 0]), { box: { x: 20, y: 20, width: 60, height: 60 }, opacity: 20 });
    const found = edgeContrast(below, runToEnd(drawnSteps(one, below)), one);
    const seen = 204 / 255;
    const light = ((seen + 0.055) / 1.055) ** 2.4;
    expect(found!.median).toBeCloseTo(contrastOf(1, light), 1);
    const away = { ...one, box: { ...one.box, x: 900 } };
    expect(edgeContrast(below, runToEnd(drawnSteps(away, below)), away)).toBeNull();
    expect(edgeContrast(below, { raster: createRaster(5, 5), left: 0, top: 0 }, one)).toBeNull();
  });

  it('tells the part that cannot be seen: half of a piece on two colors', () => {
    const below = paint(100, 100, (x) => (x < 50 ? [20, 20, 20] : [240, 240, 240]));
    const one = layer(disc([30, 30, 30]), { box: { x: 20, y: 20, width: 60, height: 60 } });
    const found = edgeContrast(below, runToEnd(drawnSteps(one, below)), one)!;
    expect(found.low).toBeLessThan(1.3);
  });
});
