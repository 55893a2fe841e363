/** Color profiles as ICC.1:2022 lays them out, made of a curve and, for RGB, of three colorants. */

/** Chromaticities of red, green and blue. */
type Primaries = readonly [readonly [number, number], readonly [number, number], readonly [number, number]];

const D65 = [0.95047, 1, 1.08883] as const;
/** White D65 -> D50 of the profile connection space (Bradford). */
const TO_D50 = [
  [1.0478112, 0.0228866, -0.050127],
  [0.0295424, 0.9904844, -0.0170491],
  [-0.0092345, 0.0150436, 0.7521316],
] as const;

export const DISPLAY_P3 = rgbProfile(
  [
    [0.68, 0.32],
    [0.265, 0.69],
    [0.15, 0.06],
  ],
  'srgb',
);
export const WIDE_RGB = rgbProfile(
  [
    [0.64, 0.33],
    [0.21, 0.71],
    [0.15, 0.06],
  ],
  563 / 256,
);
export const PLAIN_SRGB = rgbProfile(
  [
    [0.64, 0.33],
    [0.3, 0.6],
    [0.15, 0.06],
  ],
  'srgb',
);
export const GRAY_22 = profile('GRAY', [
  ['wtpt', xyz([0.9642, 1, 0.8249])],
  ['kTRC', gamma(2.2)],
]);

export function rgbProfile(primaries: Primaries, curve: number | 'srgb'): Buffer {
  const columns = primaries.map(([x, y]) => [x / y, 1, (1 - x - y) / y]);
  const scales = solve3(columns, D65);
  const tone = curve === 'srgb' ? srgbCurve() : gamma(curve);
  const colorants = columns.map((column, k) =>
    TO_D50.map((row) => row.reduce((sum, factor, c) => sum + factor * column[c]! * scales[k]!, 0)),
  );
  return profile('RGB ', [
    ['wtpt', xyz([0.9642, 1, 0.8249])],
    ...(['rXYZ', 'gXYZ', 'bXYZ'] as const).map((name, k) => [name, xyz(colorants[k]!)] as const),
    ...(['rTRC', 'gTRC', 'bTRC'] as const).map((name) => [name, tone] as const),
  ]);
}

function profile(space: string, tags: readonly (readonly [string, Buffer])[]): Buffer {
  const table = Buffer.alloc(4 + 12 * tags.length);
  table.writeUInt32BE(tags.length, 0);
  const parts: Buffer[] = [];
  let offset = 128 + table.length;
  tags.forEach(([name, data], k) => {
    table.write(name, 4 + 12 * k, 'latin1');
    table.writeUInt32BE(offset, 8 + 12 * k);
    table.writeUInt32BE(data.length, 12 + 12 * k);
    const padded = Buffer.alloc(Math.ceil(data.length / 4) * 4);
    data.copy(padded);
    parts.push(padded);
    offset += padded.length;
  });
  const head = Buffer.alloc(128);
  head.writeUInt32BE(offset, 0);
  head.writeUInt32BE(0x04200000, 8);
  head.write('mntr', 12, 'latin1');
  head.write(space, 16, 'latin1');
  head.write('XYZ ', 20, 'latin1');
  head.write('acsp', 36, 'latin1');
  xyz([0.9642, 1, 0.8249]).copy(head, 68, 8);
  return Buffer.concat([head, table, ...parts]);
}

function xyz(values: readonly number[]): Buffer {
  const tag = Buffer.alloc(20);
  tag.write('XYZ ', 0, 'latin1');
  values.forEach((value, k) => tag.writeInt32BE(Math.round(value * 65_536), 8 + 4 * k));
  return tag;
}

function gamma(value: number): Buffer {
  const tag = Buffer.alloc(14);
  tag.write('curv', 0, 'latin1');
  tag.writeUInt32BE(1, 8);
  tag.writeUInt16BE(Math.round(value * 256), 12);
  return tag;
}

/** The curve of sRGB as a parametric one of the fourth kind. */
function srgbCurve(): Buffer {
  const tag = Buffer.alloc(32);
  tag.write('para', 0, 'latin1');
  tag.writeUInt16BE(3, 8);
  [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045].forEach((value, k) =>
    tag.writeInt32BE(Math.round(value * 65_536), 12 + 4 * k),
  );
  return tag;
}

/** The three factors by which columns add up to a vector (Cramer). */
function solve3(columns: readonly (readonly number[])[], target: readonly number[]): number[] {
  const det = (m: readonly (readonly number[])[]) =>
    m[0]![0]! * (m[1]![1]! * m[2]![2]! - m[2]![1]! * m[1]![2]!) -
    m[1]![0]! * (m[0]![1]! * m[2]![2]! - m[2]![1]! * m[0]![2]!) +
    m[2]![0]! * (m[0]![1]! * m[1]![2]! - m[1]![1]! * m[0]![2]!);
  return columns.map((_, k) => det(columns.map((column, c) => (c === k ? target : column))) / det(columns));
}
