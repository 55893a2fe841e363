import { seededRandom } from '../src/core/numeric/random';
import { handwritten } from './handwriting';
import type { DemoPiece } from './pieces';

/** How many pictures each series has. */
const MANY = 20;

/** Pictures that belong together, as somebody brings them: kites from one afternoon, signatures from one stack of letters. */
export function demoSeries(seed: number): DemoPiece[] {
  const random = seededRandom(seed + 1);
  const numbers = Array.from({ length: MANY }, (_, k) => k + 1);
  return [
    ...numbers.map((number) => seriesKite(number, random)),
    ...numbers.map((number) => seriesSignature(number, random)),
  ];
}

const two = (number: number) => String(number).padStart(2, '0');

const SAILS = [
  ['#e2503f', '#f0bd4d', '#1d3557', '#2a7f86'],
  ['#7c2036', '#d79a2b', '#17535c', '#b93a3c'],
  ['#2a7f86', '#e9c46a', '#f2715c', '#1d3557'],
  ['#3c5a2e', '#c9832e', '#8a2f3c', '#23455e'],
] as const;

/** A kite on a white table, turned as it was laid down; its shadow falls to the lower right. */
function seriesKite(number: number, random: () => number): DemoPiece {
  const between = (low: number, high: number) => low + (high - low) * random();
  const width = 1200;
  const height = 900;
  const middle = { x: between(520, 680), y: between(380, 440) };
  const half = between(190, 260);
  const up = between(240, 290);
  const down = between(320, 380);
  const turn = between(-24, 24);
  const [first, second, third, fourth] = SAILS[number % SAILS.length]!;
  const sail = `<path d="M0 ${-up}L${-half} 0H0Z" fill="${first}"/><path d="M0 ${-up}L${half} 0H0Z" fill="${second}"/><path d="M${-half} 0L0 ${down}V0Z" fill="${fourth}"/><path d="M${half} 0L0 ${down}V0Z" fill="${third}"/>`;
  const frame = `<path d="M0 ${-up - 12}V${down + 12}M${-half - 10} 0H${half + 10}" stroke="#6b4a2f" stroke-width="8" stroke-linecap="round"/>`;
  const bows = [1, 2].map((k) => {
    const x = 30 * k + between(-14, 14);
    const y = down + 12 + 26 * k;
    return `<path transform="translate(${x} ${y}) rotate(${between(-30, 30)})" d="M0 0L-30 -15V15ZM0 0L30 -15V15Z" fill="${k === 1 ? first : fourth}"/>`;
  });
  const tail = `<path d="M0 ${down + 8}Q50 ${down + 30} 66 ${down + 72}" fill="none" stroke="#6b4a2f" stroke-width="5"/>`;
  // When the sun came out the shadows were deep.
  const depth = number % 7 === 0 ? 0.34 : 0.025;
  const radians = (turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(radians), Math.sin(radians)];
  return {
    file: `series-kite-${two(number)}.jpg`,
    width,
    height,
    subject: `<g transform="translate(${middle.x} ${middle.y}) rotate(${turn})">${tail}${bows.join('')}${sail}${frame}</g>`,
    backdrop: (x, y) => {
      const far = ((x / width - 0.5) ** 2 + (y / height - 0.5) ** 2) * 2;
      const [dx, dy] = [x - middle.x - 16, y - middle.y - 22];
      const across = Math.abs(dx * cos + dy * sin) / half;
      const along = -dx * sin + dy * cos;
      const outside = Math.max(0, across + (along < 0 ? -along / up : along / down) - 1) * 200;
      const light = (1 - 0.05 * far) * (1 - depth * Math.exp(-((outside / 44) ** 2)));
      return [246 * light, 246 * light, 244 * light];
    },
    grain: 1.3,
    jpegQuality: 86,
    dpi: 240,
  };
}

const NAMES = ['Maren Ostrel', 'M Ostrel', 'Ostrel', 'Maren'] as const;
const INKS = ['#1d2a6b', '#20242f', '#3b2a5c', '#14384a'] as const;

/** A signature from a flatbed, on paper of one stack. */
function seriesSignature(number: number, random: () => number): DemoPiece {
  const between = (low: number, high: number) => low + (high - low) * random();
  const width = 1200;
  const height = 480;
  const name = NAMES[number % NAMES.length]!;
  const size = between(52, 62);
  const light = (x: number) => 1 - 0.06 * Math.max(0, x / width - 0.5);
  const tilt = between(-2.5, 2.5);
  const hand = { color: INKS[number % INKS.length]!, thin: between(1.6, 2), thick: between(4.6, 5.6) };
  const left = 1200 / 2 - name.length * size * 0.52;
  return {
    file: `series-signature-${two(number)}.jpg`,
    width,
    height,
    subject: `<g transform="rotate(${tilt} ${width / 2} ${height / 2})">${handwritten(name, left, 270, size, hand)}</g>`,
    backdrop: (x, y) => {
      const fibre = 1 - 0.005 * Math.sin(x * 0.37 + 3 * Math.sin(y * 0.05)) * Math.sin(y * 0.29);
      return [243 * light(x) * fibre, 239 * light(x) * fibre, 226 * light(x) * fibre];
    },
    light,
    grain: 1.4,
    jpegQuality: 88,
    dpi: 300,
  };
}
