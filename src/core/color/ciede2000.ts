/** A CIELAB color (D65, 2 degrees): `l` 0 to 100, `a` and `b` about -128 to 127. */
export interface CieLab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

const WHITE = { x: 0.95047, y: 1, z: 1.08883 } as const;
const RADIANS = Math.PI / 180;

/** Encoded sRGB, channels 0 to 255 (decimals allowed) -> CIELAB under D65 (IEC 61966-2-1, CIE 15). For measuring only. */
export function cieLabOf(red: number, green: number, blue: number): CieLab {
  const r = linear(red);
  const g = linear(green);
  const b = linear(blue);
  const x = bend((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / WHITE.x);
  const y = bend((0.2126729 * r + 0.7151522 * g + 0.072175 * b) / WHITE.y);
  const z = bend((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / WHITE.z);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

/** CIEDE2000 color difference with unit weights (Sharma, Wu and Dalal, 2005). */
export function ciede2000(one: CieLab, other: CieLab): number {
  const meanChroma = (Math.hypot(one.a, one.b) + Math.hypot(other.a, other.b)) / 2;
  const stretch = 0.5 * (1 - Math.sqrt(meanChroma ** 7 / (meanChroma ** 7 + 25 ** 7)));
  const a1 = (1 + stretch) * one.a;
  const a2 = (1 + stretch) * other.a;
  const c1 = Math.hypot(a1, one.b);
  const c2 = Math.hypot(a2, other.b);
  const h1 = hue(a1, one.b);
  const h2 = hue(a2, other.b);
  const deltaL = other.l - one.l;
  const deltaC = c2 - c1;
  const turn = c1 * c2 === 0 ? 0 : wrap(h2 - h1);
  const deltaH = 2 * Math.sqrt(c1 * c2) * Math.sin((turn / 2) * RADIANS);
  const l = (one.l + other.l) / 2;
  const c = (c1 + c2) / 2;
  const h = meanHue(h1, h2, c1 * c2);
  const t =
    1 -
    0.17 * Math.cos((h - 30) * RADIANS) +
    0.24 * Math.cos(2 * h * RADIANS) +
    0.32 * Math.cos((3 * h + 6) * RADIANS) -
    0.2 * Math.cos((4 * h - 63) * RADIANS);
  const weightL = 1 + (0.015 * (l - 50) ** 2) / Math.sqrt(20 + (l - 50) ** 2);
  const weightC = 1 + 0.045 * c;
  const weightH = 1 + 0.015 * c * t;
  const twist = 30 * Math.exp(-(((h - 275) / 25) ** 2));
  const mixed = -Math.sin(2 * twist * RADIANS) * 2 * Math.sqrt(c ** 7 / (c ** 7 + 25 ** 7));
  const dl = deltaL / weightL;
  const dc = deltaC / weightC;
  const dh = deltaH / weightH;
  return Math.sqrt(Math.max(0, dl * dl + dc * dc + dh * dh + mixed * dc * dh));
}

function linear(value: number): number {
  const encoded = value / 255;
  return encoded <= 0.04045 ? encoded / 12.92 : ((encoded + 0.055) / 1.055) ** 2.4;
}

function bend(t: number): number {
  return t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116;
}

function hue(a: number, b: number): number {
  if (a === 0 && b === 0) return 0;
  const angle = Math.atan2(b, a) / RADIANS;
  return angle < 0 ? angle + 360 : angle;
}

function wrap(turn: number): number {
  if (turn > 180) return turn - 360;
  return turn < -180 ? turn + 360 : turn;
}

function meanHue(h1: number, h2: number, product: number): number {
  if (product === 0) return h1 + h2;
  if (Math.abs(h1 - h2) <= 180) return (h1 + h2) / 2;
  return h1 + h2 < 360 ? (h1 + h2 + 360) / 2 : (h1 + h2 - 360) / 2;
}
