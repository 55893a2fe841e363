import { seededRandom } from '../src/core/numeric/random';
import type { Backdrop } from './picture';
import type { DemoPiece } from './pieces';

type Tone = readonly [number, number, number];

/** A beach: where the sea begins and ends as shares of the height, and the colors from top to bottom. */
interface Beach {
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly horizon: number;
  readonly shore: number;
  readonly sky: readonly [Tone, Tone];
  readonly sea: readonly [Tone, Tone];
  readonly sand: readonly [Tone, Tone];
  readonly grain: number;
  /** A kite in the air: its middle as shares, its size in pixels, its turn in degrees. */
  readonly kite: { readonly x: number; readonly y: number; readonly size: number; readonly turn: number };
}

const BEACHES: readonly Beach[] = [
  {
    file: 'ostrel-beach-noon.jpg',
    width: 1800,
    height: 1200,
    horizon: 0.46,
    shore: 0.68,
    sky: [
      [92, 150, 205],
      [203, 224, 236],
    ],
    sea: [
      [38, 104, 140],
      [112, 170, 178],
    ],
    sand: [
      [205, 184, 146],
      [228, 208, 170],
    ],
    grain: 2.2,
    kite: { x: 0.3, y: 0.24, size: 120, turn: 22 },
  },
  {
    file: 'ostrel-beach-evening.jpg',
    width: 1200,
    height: 1800,
    horizon: 0.52,
    shore: 0.72,
    sky: [
      [72, 84, 128],
      [238, 176, 128],
    ],
    sea: [
      [92, 92, 122],
      [188, 142, 122],
    ],
    sand: [
      [122, 98, 84],
      [92, 76, 70],
    ],
    grain: 3,
    kite: { x: 0.62, y: 0.27, size: 110, turn: -18 },
  },
  {
    file: 'ostrel-beach-storm.jpg',
    width: 1800,
    height: 1200,
    horizon: 0.58,
    shore: 0.8,
    sky: [
      [38, 44, 54],
      [96, 106, 116],
    ],
    sea: [
      [34, 50, 58],
      [72, 92, 96],
    ],
    sand: [
      [78, 74, 66],
      [58, 55, 50],
    ],
    grain: 3.4,
    kite: { x: 0.7, y: 0.3, size: 100, turn: 34 },
  },
];

/** Three photos from the beach where the kites are flown. */
export function demoPhotos(seed: number): DemoPiece[] {
  return BEACHES.map((beach, k) => photo(beach, seededRandom(seed + 40 + k)));
}

function photo(beach: Beach, random: () => number): DemoPiece {
  const { file, width, height, kite, grain } = beach;
  const { x, y, size, turn } = kite;
  const sail = `<path d="M0 ${-size}L${-0.7 * size} 0H0Z" fill="#e2503f"/><path d="M0 ${-size}L${0.7 * size} 0H0Z" fill="#f0bd4d"/><path d="M${-0.7 * size} 0L0 ${1.2 * size}V0Z" fill="#2a7f86"/><path d="M${0.7 * size} 0L0 ${1.2 * size}V0Z" fill="#1d3557"/>`;
  const line = `<path d="M0 0Q${0.2 * size} ${3 * size} ${1.6 * size} ${0.62 * height}" fill="none" stroke="#4a4038" stroke-width="1.6"/>`;
  return {
    file,
    width,
    height,
    subject: `<g transform="translate(${x * width} ${y * height}) rotate(${turn})">${line}${sail}</g>`,
    backdrop: landscape(beach, random),
    grain,
    jpegQuality: 86,
    dpi: 240,
  };
}

/** Sky with soft clouds, sea with waves that grow toward the shore, foam, and sand with ripples. */
function landscape({ width, height, horizon, shore, sky, sea, sand }: Beach, random: () => number): Backdrop {
  const clouds = Array.from({ length: 14 }, () => ({
    x: random() * width,
    y: random() * horizon * 0.8 * height,
    wide: width * (0.08 + 0.16 * random()),
    high: height * (0.015 + 0.03 * random()),
    strength: 0.25 + 0.4 * random(),
  }));
  const mix = (one: Tone, other: Tone, share: number): Tone => {
    const at = (c: 0 | 1 | 2) => one[c] + share * (other[c] - one[c]);
    return [at(0), at(1), at(2)];
  };
  const lit = ([red, green, blue]: Tone, by: number): Tone => [red + by, green + by, blue + by];
  return (x, y) => {
    const down = y / height;
    const surf = shore + 0.012 * Math.sin(x / 90) + 0.006 * Math.sin(x / 31 + 2);
    if (down < horizon) {
      const own = mix(sky[0], sky[1], down / horizon);
      const cloud = clouds.reduce(
        (sum, { x: cx, y: cy, wide, high, strength }) =>
          sum + strength * Math.exp(-(((x - cx) / wide) ** 2) - ((y - cy) / high) ** 2),
        0,
      );
      return lit(own, 46 * Math.min(1, cloud));
    }
    if (down < surf) {
      const near = (down - horizon) / (surf - horizon);
      const wave =
        Math.sin((y * (1.6 - near)) / (1.2 + 5 * near) + 2.4 * Math.sin(x / (40 + 120 * near) + y / 17)) *
        (3 + 9 * near);
      const foam = Math.exp(-(((near - 0.97) / 0.03) ** 2)) * 90;
      return lit(mix(sea[0], sea[1], near), wave + foam);
    }
    const near = (down - surf) / (1 - surf);
    const ripple = Math.sin(y / (3 + 9 * near) + 1.7 * Math.sin(x / (60 + 40 * near))) * (2 + 5 * near);
    const wet = Math.exp(-near * 14) * -34;
    return lit(mix(sand[0], sand[1], near), ripple + wet);
  };
}
