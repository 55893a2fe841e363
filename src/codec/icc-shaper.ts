/**
 * Color profiles made of curves and, for RGB, one matrix (ICC.1:2022, sections 8.3.3, 8.4.3, 10.6 and 10.18), read to
 * convert samples of 16 bits to sRGB without rounding on the way.
 */

/** Encoded samples of 0 to 65535 -> linear light of 0 to 1, by table. */
type Curve = Float32Array;

export interface Shaper {
  /** One curve for gray, three for red, green and blue. */
  readonly curves: readonly [Curve] | readonly [Curve, Curve, Curve];
  /** Rows of linear device color -> linear sRGB; null for gray, whose curve is luminance. */
  readonly matrix: readonly number[] | null;
}

const DEPTH = 65_536;

/** XYZ of the profile connection space (D50) -> linear sRGB: the inverse of the sRGB profile's colorants (Lindbloom, Bradford). */
const XYZ_TO_SRGB = [
  [3.1338561, -1.6168667, -0.4906146],
  [-0.9787684, 1.9161415, 0.033454],
  [0.0719453, -0.2289914, 1.4052427],
] as const;

/** Reads a profile for `channels` color channels (1 or 3). Null where it has lookup tables, does not fit, or is damaged. */
export function readShaper(icc: Uint8Array, channels: 1 | 3): Shaper | null {
  const profile = Buffer.from(icc.buffer, icc.byteOffset, icc.byteLength);
  try {
    const tags = readTags(profile);
    const space = profile.toString('latin1', 16, 20);
    if (tags.has('A2B0')) return null;
    if (channels === 1)
      return space === 'GRAY' ? { curves: [readCurve(tags.get('kTRC')!)], matrix: null } : null;
    if (space !== 'RGB ' || profile.toString('latin1', 20, 24) !== 'XYZ ') return null;
    const colorants = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) => readXyz(tags.get(name)!));
    const matrix = XYZ_TO_SRGB.flatMap((row) =>
      colorants.map((xyz) => row[0] * xyz[0]! + row[1] * xyz[1]! + row[2] * xyz[2]!),
    );
    const [red, green, blue] = ['rTRC', 'gTRC', 'bTRC'].map((name) => readCurve(tags.get(name)!));
    return { curves: [red!, green!, blue!], matrix };
  } catch {
    return null;
  }
}

function readTags(profile: Buffer): Map<string, Buffer> {
  const tags = new Map<string, Buffer>();
  const count = Math.min(profile.readUInt32BE(128), 1000);
  for (let k = 0; k < count; k++) {
    const at = 132 + 12 * k;
    const start = profile.readUInt32BE(at + 4);
    tags.set(
      profile.toString('latin1', at, at + 4),
      profile.subarray(start, start + profile.readUInt32BE(at + 8)),
    );
  }
  return tags;
}

function readXyz(tag: Buffer): number[] {
  return [8, 12, 16].map((at) => tag.readInt32BE(at) / DEPTH);
}

function readCurve(tag: Buffer): Curve {
  const type = tag.toString('latin1', 0, 4);
  if (type === 'para') return tabled(parametric(tag));
  if (type !== 'curv') throw new Error(`curve of type ${type}`);
  const count = tag.readUInt32BE(8);
  if (count === 0) return tabled((x) => x);
  if (count === 1) {
    const gamma = tag.readUInt16BE(12) / 256;
    return tabled((x) => x ** gamma);
  }
  const points = Float64Array.from({ length: count }, (_, k) => tag.readUInt16BE(12 + 2 * k) / (DEPTH - 1));
  return tabled((x) => {
    const place = x * (count - 1);
    const k = Math.min(count - 2, Math.floor(place));
    return points[k]! + (points[k + 1]! - points[k]!) * (place - k);
  });
}

/** The five parametric curves of ICC.1:2022, table 68. */
function parametric(tag: Buffer): (x: number) => number {
  const kind = tag.readUInt16BE(8);
  const counts = [1, 3, 4, 5, 7];
  const [g = 1, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: counts[kind]! }, (_, k) => {
    return tag.readInt32BE(12 + 4 * k) / DEPTH;
  });
  switch (kind) {
    case 0:
      return (x) => x ** g;
    case 1:
      return (x) => (x >= -b / a ? (a * x + b) ** g : 0);
    case 2:
      return (x) => (x >= -b / a ? (a * x + b) ** g + c : c);
    case 3:
      return (x) => (x >= d ? (a * x + b) ** g : c * x);
    default:
      return (x) => (x >= d ? (a * x + b) ** g + e : c * x + f);
  }
}

function tabled(curve: (x: number) => number): Curve {
  return Float32Array.from({ length: DEPTH }, (_, v) => Math.min(1, Math.max(0, curve(v / (DEPTH - 1)))));
}
