/**
 * The perceptual space in which backgrounds are compared: OKLab (Björn Ottosson, 2020) with its lightness passed
 * through Ottosson's toe (2021), which undoes OKLab's exaggeration of the darkest tones; `a` and `b` are scaled by the
 * same ratio. One unit of distance is a hundredth of the way from black to white; chroma counts double, since
 * OKLab's chroma axes are short for that purpose.
 *
 * All tables are made from +, -, *, / and square roots only, which IEEE 754 rounds exactly: every browser and every
 * Node.js gets the same bits.
 */

/** Weight of chroma against lightness in distances. */
export const CHROMA_WEIGHT = 2;

/** Entries between 0 and 1 of the cube-root table. */
const ROOT_STEPS = 65535;

/** sRGB decoding for 8-bit values: encoded 0 to 255 -> linear light 0 to 1 (IEC 61966-2-1). */
export const SRGB_TO_LINEAR: Float64Array = decodingTable();

/** Cube roots of `i / ROOT_STEPS`. */
const CUBE_ROOT: Float32Array = cubeRootTable();

/** Linear sRGB to the cone response that OKLab starts from; rows l, m, s. */
const TO_LMS = [
  [0.4122214708, 0.5363325363, 0.0514459929],
  [0.2119034982, 0.6806995451, 0.1073969566],
  [0.0883024619, 0.2817188376, 0.6299787005],
] as const;

/** Each encoded channel's share of l, m and s, in steps of the cube-root table: [channel][cone][value], flat. */
const LMS_SHARE: Float64Array = lmsShares();

/** Constants of Ottosson's toe; `TOE_ROOT` is the factor under its square root. */
const TOE_SHIFT = 0.206;
const TOE_BEND = 0.03;
const TOE_SLOPE = (1 + TOE_SHIFT) / (1 + TOE_BEND);
const TOE_ROOT = 4 * TOE_BEND * TOE_SLOPE;

/** A color in the comparison space: lightness 0 to 1, chroma axes about -0.35 to 0.35. */
export interface Lab {
  readonly lightness: number;
  readonly a: number;
  readonly b: number;
}

/** An 8-bit sRGB color -> the comparison space. Channels are whole numbers from 0 to 255. */
export function labOf(red: number, green: number, blue: number): Lab {
  const share = LMS_SHARE;
  const g = 768 + green;
  const c = 1536 + blue;
  const l = CUBE_ROOT[(share[red]! + share[g]! + share[c]! + 0.5) | 0]!;
  const m = CUBE_ROOT[(share[red + 256]! + share[g + 256]! + share[c + 256]! + 0.5) | 0]!;
  const s = CUBE_ROOT[(share[red + 512]! + share[g + 512]! + share[c + 512]! + 0.5) | 0]!;
  const plain = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
  const lightness = toe(plain);
  const ratio = plain > 0 ? lightness / plain : 0;
  return {
    lightness,
    a: (1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s) * ratio,
    b: (0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s) * ratio,
  };
}

/** Distance of two colors on the tolerance scale: 0 equal, 100 black against white; never above 100. */
export function colorDistance(one: Lab, other: Lab): number {
  const dl = one.lightness - other.lightness;
  const da = (one.a - other.a) * CHROMA_WEIGHT;
  const db = (one.b - other.b) * CHROMA_WEIGHT;
  return Math.min(100, 100 * Math.sqrt(dl * dl + da * da + db * db));
}

function toe(lightness: number): number {
  const t = TOE_SLOPE * lightness - TOE_SHIFT;
  return 0.5 * (t + Math.sqrt(t * t + TOE_ROOT * lightness));
}

function decodingTable(): Float64Array {
  const table = new Float64Array(256);
  for (let v = 0; v < 256; v++) {
    const encoded = v / 255;
    if (encoded <= 0.04045) {
      table[v] = encoded / 12.92;
    } else {
      const base = (encoded + 0.055) / 1.055;
      const fifth = root(base, 5);
      table[v] = base * base * fifth * fifth; // base ** 2.4
    }
  }
  return table;
}

function lmsShares(): Float64Array {
  const table = new Float64Array(3 * 3 * 256);
  for (let channel = 0; channel < 3; channel++) {
    for (let cone = 0; cone < 3; cone++) {
      const factor = TO_LMS[cone]![channel]! * ROOT_STEPS;
      for (let v = 0; v < 256; v++) table[(channel * 3 + cone) * 256 + v] = SRGB_TO_LINEAR[v]! * factor;
    }
  }
  return table;
}

function cubeRootTable(): Float32Array {
  const table = new Float32Array(ROOT_STEPS + 2);
  for (let i = 0; i < table.length; i++) table[i] = root(i / ROOT_STEPS, 3);
  return table;
}

/** The n-th root of 0 to 1 by Newton's iteration, to the last bits of a double. */
function root(value: number, n: 3 | 5): number {
  if (value <= 0) return 0;
  let x = 1;
  for (let round = 0; round < 60; round++) {
    const power = n === 3 ? x * x : x * x * x * x;
    const better = ((n - 1) * x + value / power) / n;
    if (better >= x) break;
    x = better;
  }
  return x;
}

/** The comparison space -> an 8-bit sRGB color, the nearest there is; what lies outside of sRGB is clipped by channel. */
export function rgbOfLab({ lightness, a, b }: Lab): readonly [number, number, number] {
  const plain = untoe(lightness);
  const ratio = lightness > 0 ? plain / lightness : 0;
  const chromaA = a * ratio;
  const chromaB = b * ratio;
  const l = cube(plain + 0.3963377774 * chromaA + 0.2158037573 * chromaB);
  const m = cube(plain - 0.1055613458 * chromaA - 0.0638541728 * chromaB);
  const s = cube(plain - 0.0894841775 * chromaA - 1.291485548 * chromaB);
  return [
    encoded(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s),
    encoded(-1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s),
    encoded(-0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s),
  ];
}

function untoe(lightness: number): number {
  return (lightness * (lightness + TOE_SHIFT)) / (TOE_SLOPE * (lightness + TOE_BEND));
}

function cube(value: number): number {
  return value * value * value;
}

/** Linear light -> the 8-bit value whose own light is nearest. */
function encoded(linear: number): number {
  let low = 0;
  let high = 255;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (SRGB_TO_LINEAR[middle]! < linear) low = middle + 1;
    else high = middle;
  }
  return low > 0 && linear - SRGB_TO_LINEAR[low - 1]! < SRGB_TO_LINEAR[low]! - linear ? low - 1 : low;
}
