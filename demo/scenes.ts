import { seededRandom } from '../src/core/numeric/random';
import { createRaster, type Raster } from '../src/core/raster/raster';

type Tone = readonly [number, number, number];

/** What photos of the coast show: made-up ones, drawn from a seed. */
export const SCENES = ['sea', 'sky', 'crowd', 'night', 'snow', 'dune'] as const;

export type Scene = (typeof SCENES)[number];

/** The photos on which a watermark is shown while it changes: scenes of six shapes. */
export const SAMPLES: readonly { readonly scene: Scene; readonly width: number; readonly height: number }[] =
  [
    { scene: 'sea', width: 960, height: 640 },
    { scene: 'dune', width: 640, height: 960 },
    { scene: 'snow', width: 960, height: 540 },
    { scene: 'night', width: 720, height: 720 },
    { scene: 'crowd', width: 640, height: 800 },
    { scene: 'sky', width: 960, height: 400 },
  ];

const mix = (one: Tone, other: Tone, share: number): Tone => {
  const at = (c: 0 | 1 | 2) => one[c] + Math.min(1, Math.max(0, share)) * (other[c] - one[c]);
  return [at(0), at(1), at(2)];
};

/** Smooth noise, -1 to 1, of octaves of a lattice. */
function noiseOf(random: () => number): (x: number, y: number, octaves?: number) => number {
  const side = 64;
  const lattice = Float64Array.from({ length: side * side }, () => 2 * random() - 1);
  const at = (x: number, y: number) => lattice[(y & (side - 1)) * side + (x & (side - 1))]!;
  const smooth = (t: number) => t * t * (3 - 2 * t);
  const one = (x: number, y: number) => {
    const left = Math.floor(x);
    const top = Math.floor(y);
    const u = smooth(x - left);
    const v = smooth(y - top);
    const upper = at(left, top) + u * (at(left + 1, top) - at(left, top));
    const lower = at(left, top + 1) + u * (at(left + 1, top + 1) - at(left, top + 1));
    return upper + v * (lower - upper);
  };
  return (x, y, octaves = 4) => {
    let sum = 0;
    for (let k = 0, share = 0.55; k < octaves; k++, share /= 2)
      sum += share * one(x * 2 ** k + 17 * k, y * 2 ** k);
    return sum;
  };
}

/** Draws a scene. The same seed gives the same photo. */
export function drawScene(scene: Scene, seed: number, width: number, height: number): Raster {
  const random = seededRandom(seed);
  const noise = noiseOf(random);
  const color = PAINTERS[scene](
    noise,
    random,
    width / Math.max(width, height),
    height / Math.max(width, height),
  );
  const out = createRaster(width, height);
  const long = Math.max(width, height);
  for (let y = 0, p = 0; y < height; y++)
    for (let x = 0; x < width; x++, p += 4) {
      const tone = color(x / long, y / long, y / height);
      const grain = (random() + random() - 1) * 5;
      for (let c = 0; c < 3; c++) out.data[p + c] = Math.round(Math.min(255, Math.max(0, tone[c]! + grain)));
      out.data[p + 3] = 255;
    }
  return out;
}

/** The color at a place: `x` and `y` in longer sides, `down` 0 to 1 from the top to the bottom. */
type Painter = (
  noise: ReturnType<typeof noiseOf>,
  random: () => number,
  wide: number,
  high: number,
) => (x: number, y: number, down: number) => Tone;

const PAINTERS: Readonly<Record<Scene, Painter>> = {
  sea: (noise, random) => {
    const horizon = 0.3 + 0.25 * random();
    const bright = 0.75 + 0.3 * random();
    return (x, y, down) => {
      if (down < horizon)
        return mix([120 * bright, 168 * bright, 214 * bright], [214, 228, 236], down / horizon);
      const near = (down - horizon) / (1 - horizon);
      const wave = noise(x * (6 + 20 * (1 - near)), y * (40 + 90 * (1 - near)), 5);
      const foam = wave > 0.35 ? 90 * (wave - 0.35) * (1 + near) : 0;
      const [red, green, blue] = mix([30, 92, 124], [96, 158, 168], near * 0.8 + 0.3 * wave);
      return [red + foam, green + foam, blue + foam];
    };
  },
  sky: (noise, random) => {
    const warm = random();
    const low: Tone = [200 + 40 * warm, 206 - 20 * warm, 220 - 70 * warm];
    return (x, y, down) => {
      const cloud = Math.max(0, noise(x * 5, y * 9, 5) + 0.1) * 1.5;
      return mix(mix([70, 124, 190], low, down), [246, 244, 240], cloud);
    };
  },
  crowd: (noise, random, wide, high) => {
    const people = Array.from({ length: 420 }, () => ({
      x: random() * wide,
      y: (0.25 + 0.75 * random()) * high,
      size: 0.012 + 0.02 * random(),
      coat: [40 + 190 * random(), 40 + 190 * random(), 40 + 190 * random()] as Tone,
      skin: mix([236, 200, 170], [96, 62, 44], random()),
    })).sort((one, other) => one.y - other.y);
    const cells = new Map<string, typeof people>();
    for (const person of people)
      for (let u = -1; u <= 1; u++)
        for (let v = -2; v <= 1; v++) {
          const key = `${Math.floor(person.x / 0.05) + u} ${Math.floor(person.y / 0.05) + v}`;
          cells.set(key, [...(cells.get(key) ?? []), person]);
        }
    return (x, y, down) => {
      let tone = mix([180, 188, 196], [122, 116, 108], down + 0.3 * noise(x * 9, y * 9));
      for (const { x: px, y: py, size, coat, skin } of cells.get(
        `${Math.floor(x / 0.05)} ${Math.floor(y / 0.05)}`,
      ) ?? []) {
        const u = (x - px) / size;
        const v = (y - py) / size;
        if (u * u + (v + 0.9) * (v + 0.9) < 0.3) tone = skin;
        else if (Math.abs(u) < 0.75 && v > -0.4 && v < 2.2)
          tone = mix(coat, [0, 0, 0], 0.2 * Math.abs(u) + 0.1 * v);
      }
      return tone;
    };
  },
  night: (noise, random, wide, high) => {
    const lights = Array.from({ length: 40 }, () => ({
      x: random() * wide,
      y: (0.45 + 0.3 * random()) * high,
      size: 0.002 + 0.008 * random(),
      tone: mix([255, 214, 140], [255, 250, 240], random()),
    }));
    return (x, y, down) => {
      let tone = mix([6, 9, 20], [24, 26, 40], down + 0.2 * noise(x * 4, y * 4));
      for (const { x: px, y: py, size, tone: lamp } of lights) {
        const far = ((x - px) ** 2 + (y - py) ** 2) / (size * size);
        const glow = 1 / (1 + far);
        if (glow > 0.01) tone = mix(tone, lamp, Math.min(1, glow * 1.4));
        const below = y - py;
        if (below > 0 && below < 0.2 && Math.abs(x - px) < size * (1 + noise(x * 60, y * 200, 2)))
          tone = mix(tone, lamp, 0.35 * (1 - below / 0.2));
      }
      return tone;
    };
  },
  snow: (noise, random) => {
    const ridge = 0.3 + 0.2 * random();
    return (x, y, down) => {
      const edge = ridge + 0.16 * noise(x * 3, 7, 4);
      if (down < edge) return mix([166, 190, 214], [222, 230, 236], down / edge);
      const shade = noise(x * 12, y * 16, 5);
      const rock = noise(x * 9 + 40, y * 14, 5) > 0.42 ? 0.8 : 0;
      return mix(mix([252, 252, 253], [206, 218, 234], 0.5 + shade), [84, 82, 86], rock);
    };
  },
  dune: (noise, random) => {
    const horizon = 0.35 + 0.2 * random();
    return (x, y, down) => {
      if (down < horizon) return mix([92, 150, 204], [224, 226, 222], down / horizon);
      const near = (down - horizon) / (1 - horizon);
      const ripple = Math.sin(y * (120 - 60 * near) + 6 * noise(x * 5, y * 5)) * (4 + 12 * near);
      const grass = near > 0.25 && noise(x * 30, y * 7, 4) > 0.36 ? 70 : 0;
      const [red, green, blue] = mix([226, 206, 166], [176, 142, 98], near + 0.4 * noise(x * 3, y * 4));
      return [red + ripple - grass, green + ripple - grass * 0.7, blue + ripple - grass];
    };
  },
};
