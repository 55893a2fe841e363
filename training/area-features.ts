import { CHAMFER_UNIT } from '../src/core/numeric/chamfer-distance';
import { square } from '../src/core/numeric/exact';
import { deviation } from '../src/core/numeric/statistics';
import { labOfDecimals } from '../src/core/stages/clear/backdrop';
import { AREA_REASONS, type Area } from '../src/core/decision/area';
import { THREADS } from '../src/core/decision/carry';
import type { Decision } from '../src/core/decision/decision';
import { colorAt, type Planes } from '../src/core/decision/planes';

/** What features are read from; places of areas are those of the original. */
export type Judged = Omit<Decision, 'firm' | 'doubtful' | 'backdrop'>;

/** Rays from an area's middle to the background, and how far on either side of where they reach it colors are compared, in pixels. */
const RAYS = 24;
const NEAR_PX = 2;
const WIDE_PX = 5;

/** Two areas are alike in size where they differ by less than this share. */
const ALIKE_SHARE = 0.15;

/** The reasons as features; for each whether it is the area's. */
const REASONS = AREA_REASONS.filter((why) => why !== 'told' && why !== 'unmarked');

/** What is seen of one area, in the order of the numbers that `areaFeatures` gives. */
export const FEATURE_NAMES: readonly string[] = [
  ...REASONS,
  ...[
    'goes',
    'clean',
    'colored',
    'drawn on white',
    'pattern',
    'share of subject',
    'share of picture',
    'fill',
    'aspect',
  ],
  ...[
    'darker',
    'spread of light',
    'off',
    'off in color',
    'spread of color',
    'lowest',
    'highest',
    'ratio of light',
  ],
  ...[
    'wide',
    'threads',
    'light from above',
    'light from the side',
    'height in subject',
    'at the foot',
    'beside',
  ],
  ...[
    'areas',
    'of this reason',
    'that go',
    'alike in size',
    'reached',
    'step near',
    'least step near',
    'step wide',
  ],
  ...['least step wide', 'crossed', 'subject share'],
];

/**
 * Numbers that tell how much an area is what it was taken for: its reason, its size and place, its color against the
 * background's around it, how the light lies on it, what company it has, and how sharply it ends where the background begins.
 * Colors are in Oklab.
 */
export function areaFeatures(decision: Judged, planes: Planes): (areaAt: number) => number[] {
  const { width, height, goes, toBorder, reduction, areas, carried } = decision;
  const { lab, zones } = carried;
  let subject = 0;
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (goes[i] === 1) continue;
      subject++;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = y;
    }
  const colorOf = (i: number) => {
    const { red, green, blue } = colorAt(planes, i);
    const level = (value: number) => Math.min(255, Math.max(0, value));
    return labOfDecimals(level(red), level(green), level(blue));
  };
  const apart = (one: number, other: number) => {
    const [a, b] = [colorOf(one), colorOf(other)];
    return Math.sqrt(square(a.lightness - b.lightness) + square(a.a - b.a) + square(a.b - b.b));
  };
  const placeOf = (x: number, y: number): [number, number] => [
    Math.min(width - 1, x >> reduction),
    Math.min(height - 1, y >> reduction),
  ];
  const goingShare = areas.filter((area) => area.goes).length / Math.max(1, areas.length);
  return (areaAt) => {
    const area = areas[areaAt]!;
    const places = [...area.dots, [area.x, area.y] as const].map(([x, y]) => placeOf(x, y));
    const pixels = area.pixels / 4 ** reduction;
    const [x0, y0] = placeOf(area.box[0], area.box[1]);
    const [x1, y1] = placeOf(area.box[2], area.box[3]);
    const [wide, high] = [x1 - x0 + 1, y1 - y0 + 1];
    const darker: number[] = [];
    const off: number[] = [];
    const tinted: number[] = [];
    const ratios: number[] = [];
    let threads = 0;
    let fromAbove = 0;
    let fromSide = 0;
    for (const [x, y] of places) {
      const i = y * width + x;
      const { lightness, a, b } = colorOf(i);
      const [ground, groundA, groundB] = [lab[0][i]!, lab[1][i]!, lab[2][i]!];
      const tint = Math.sqrt(square(a - groundA) + square(b - groundB));
      darker.push(ground - lightness);
      tinted.push(tint);
      off.push(Math.sqrt(square(tint) + square(ground - lightness)));
      ratios.push(lightness / Math.max(0.05, ground));
      if (zones[i] === THREADS) threads++;
      fromAbove += (ground - lightness) * ((2 * (y - y0)) / high - 1);
      fromSide += (ground - lightness) * ((2 * (x - x0)) / wide - 1);
    }
    const [x, y] = placeOf(area.x, area.y);
    const ends = raysFrom(decision, x, y);
    const steps = (px: number) =>
      ends.map(({ inside, outside }) => apart(inside(px), outside(px))).sort((one, other) => one - other);
    const [near, far] = [steps(NEAR_PX), steps(WIDE_PX)];
    const low = (sorted: readonly number[]) => sorted[Math.floor(sorted.length / 5)] ?? 0;
    const isAlike = ({ pixels: other }: Area) => Math.abs(other - area.pixels) < ALIKE_SHARE * area.pixels;
    const count = places.length;
    return [
      ...REASONS.map((why) => (area.why === why ? 1 : 0)),
      area.goes ? 1 : 0,
      decision.clean ? 1 : 0,
      decision.colored ? 1 : 0,
      decision.drawnOnWhite ? 1 : 0,
      carried.checker ? 1 : 0,
      pixels / Math.max(1, subject),
      pixels / goes.length,
      pixels / (wide * high),
      wide / high,
      meanOf(darker),
      deviation(darker),
      meanOf(off),
      meanOf(tinted),
      deviation(tinted),
      Math.min(...darker),
      Math.max(...darker),
      meanOf(ratios),
      meanOf(places.map(([u, v]) => toBorder[v * width + u]! / CHAMFER_UNIT)) / Math.sqrt(pixels),
      threads / count,
      fromAbove / count,
      fromSide / count,
      (y - top) / Math.max(1, bottom - top),
      (bottom - y1) / Math.max(1, bottom - top),
      Math.min(x0 - left, right - x1) / Math.max(1, right - left),
      areas.length,
      areas.filter(({ why }) => why === area.why).length,
      goingShare,
      areas.filter(isAlike).length - 1,
      ends.length / RAYS,
      meanOf(near),
      low(near),
      meanOf(far),
      low(far),
      meanOf(ends.map(({ crossed }) => crossed)),
      subject / goes.length,
    ];
  };
}

const meanOf = (values: readonly number[]) =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);

/** Where a ray comes to the background: places so far before and behind it, and how many borders it crossed before. */
interface End {
  readonly inside: (px: number) => number;
  readonly outside: (px: number) => number;
  readonly crossed: number;
}

/** The rays from a place that come to what goes before they leave the picture; from what goes, to what stays. */
function raysFrom({ width, height, goes, toBorder }: Judged, x: number, y: number): End[] {
  const from = goes[y * width + x]!;
  const ends: End[] = [];
  for (let k = 0; k < RAYS; k++) {
    const [across, down] = direction(k);
    const at = (far: number) => {
      const u = Math.min(width - 1, Math.max(0, Math.round(x + far * across)));
      const v = Math.min(height - 1, Math.max(0, Math.round(y + far * down)));
      return v * width + u;
    };
    let crossed = 0;
    let isAtBorder = false;
    for (let far = 1; ; far++) {
      const [u, v] = [x + far * across, y + far * down];
      if (u < 0 || v < 0 || u > width - 1 || v > height - 1) break;
      const i = at(far);
      if (goes[i] !== from) {
        const end = far;
        ends.push({ inside: (px) => at(Math.max(0, end - px)), outside: (px) => at(end + px - 1), crossed });
        break;
      }
      const isBorder = toBorder[i]! <= CHAMFER_UNIT;
      if (isBorder && !isAtBorder) crossed++;
      isAtBorder = isBorder;
    }
  }
  return ends;
}

/** The direction of a ray: around a square, so that no engine's own rounding counts. */
function direction(k: number): [number, number] {
  const side = Math.floor((4 * k) / RAYS);
  const along = 2 * ((4 * k) / RAYS - side) - 1;
  if (side === 0) return [along, -1];
  if (side === 1) return [1, along];
  return side === 2 ? [-along, 1] : [-1, -along];
}
