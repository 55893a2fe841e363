import path from 'node:path';
import { setImmediate } from 'node:timers/promises';
import sharp from 'sharp';
import { bytesOf } from '../../codec/picture-library';
import { lumaOf } from '../../core/color/luma';
import { KenosisError } from '../../core/errors';
import { seededRandom } from '../../core/numeric/random';
import type { ScanPass, Scanner, ScanSettings, ScanSheet } from './scanner';

/** A demo sheet: the ink that is on it, at its own resolution, and its paper. */
interface DemoSheet extends ScanSheet {
  readonly file: string;
  readonly dpi: number;
  readonly paper: readonly [number, number, number];
}

const MM_PER_INCH = 25.4;

function sheet(
  id: string,
  name: string,
  file: string,
  size: [number, number],
  dpi: number,
  paper: DemoSheet['paper'],
): DemoSheet {
  const [width, height] = size;
  return {
    id,
    name,
    file,
    dpi,
    paper,
    widthMm: (width / dpi) * MM_PER_INCH,
    heightMm: (height / dpi) * MM_PER_INCH,
  };
}

const SHEETS: readonly DemoSheet[] = [
  sheet(
    'signature',
    'Signature on cream',
    'ostrel-signature-scan.truth.png',
    [2400, 1080],
    600,
    [244, 238, 221],
  ),
  sheet('letter', 'Letter', 'ostrel-letter.truth.png', [1240, 1754], 150, [250, 249, 245]),
  sheet('wordmark', 'Printed wordmark', 'ostrel-wordmark.truth.png', [1600, 640], 300, [248, 248, 246]),
];

/** Glass around the sheet that is scanned with it. */
const MARGIN_MM = 4;

/** A sheet lies at most so far askew. */
const ASKEW_DEG = 1.4;

/** What is behind the sheet: the white lid, or with the lid open the dark room. */
const LID = [233, 233, 231] as const;
const ROOM = [52, 50, 48] as const;

/** With the lid open so much light is missing at the far corner. */
const FALL = 0.22;

/** Deviation of the sensor's noise, encoded. */
const NOISE = 1.1;

/** Pixels between two bands. */
const BAND_PIXELS = 300_000;

/**
 * A flatbed that ships with Kenosis: it scans the demo sheets as a flatbed would, a little askew and with its noise.
 * `seed` decides how the next sheet lies.
 */
export function simulatedFlatbed(seed: () => number = () => Date.now()): Scanner {
  return {
    name: 'Simulated flatbed',
    sheets: () =>
      Promise.resolve(SHEETS.map(({ id, name, widthMm, heightMm }) => ({ id, name, widthMm, heightMm }))),
    async scan(settings) {
      const found = SHEETS.find(({ id }) => id === settings.sheet);
      if (!found) throw new KenosisError('not-found', `There is no sheet "${settings.sheet}" to scan.`);
      return scanOf(found, settings, seededRandom(seed()));
    },
  };
}

async function scanOf(
  on: DemoSheet,
  { dpi, mode, lid }: ScanSettings,
  random: () => number,
): Promise<ScanPass> {
  const scale = dpi / on.dpi;
  const file = path.join(process.cwd(), 'demo', 'pictures', on.file);
  const { width: inkWidth } = await sharp(file).metadata();
  const { data, info } = await sharp(file, { limitInputPixels: false })
    .resize(Math.round(inkWidth * scale), null, { kernel: 'cubic' })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const margin = Math.round((MARGIN_MM / MM_PER_INCH) * dpi);
  const width = info.width + 2 * margin;
  const height = info.height + 2 * margin;
  const channels = mode === 'gray' ? 1 : 3;
  const lay = {
    ink: bytesOf(data),
    inkWidth: info.width,
    inkHeight: info.height,
    width,
    height,
    channels,
    paper: on.paper,
    behind: lid === 'open' ? ROOM : LID,
    fall: lid === 'open' ? FALL : 0,
    turn: ((2 * random() - 1) * ASKEW_DEG * Math.PI) / 180,
    random,
  } as const;
  return { width, height, channels, bands: bandsOf(lay) };
}

/** A sheet as it lies on the glass. */
interface Lay {
  readonly ink: Uint8Array;
  readonly inkWidth: number;
  readonly inkHeight: number;
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly paper: readonly [number, number, number];
  readonly behind: readonly [number, number, number];
  readonly fall: number;
  readonly turn: number;
  readonly random: () => number;
}

async function* bandsOf(lay: Lay): AsyncGenerator<Uint8Array> {
  const rows = Math.max(1, Math.floor(BAND_PIXELS / lay.width));
  for (let y = 0; y < lay.height; y += rows) {
    const band = new Uint8Array(Math.min(rows, lay.height - y) * lay.width * lay.channels);
    fillBand(lay, y, band);
    yield band;
    await setImmediate();
  }
}

function fillBand(lay: Lay, from: number, band: Uint8Array): void {
  const { ink, inkWidth, inkHeight, width, height, channels, paper, behind, fall, turn, random } = lay;
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const rows = band.length / (width * channels);
  for (let row = 0, q = 0; row < rows; row++) {
    const y = from + row + 0.5 - height / 2;
    for (let column = 0; column < width; column++, q += channels) {
      const x = column + 0.5 - width / 2;
      const sx = cos * x + sin * y + inkWidth / 2 - 0.5;
      const sy = -sin * x + cos * y + inkHeight / 2 - 0.5;
      // How much of the pixel lies on the sheet.
      const onSheet =
        Math.min(1, Math.max(0, sx + 1)) *
        Math.min(1, Math.max(0, inkWidth - sx)) *
        Math.min(1, Math.max(0, sy + 1)) *
        Math.min(1, Math.max(0, inkHeight - sy));
      const i = Math.min(inkWidth - 2, Math.max(0, Math.floor(sx)));
      const j = Math.min(inkHeight - 2, Math.max(0, Math.floor(sy)));
      const u = Math.min(1, Math.max(0, sx - i));
      const v = Math.min(1, Math.max(0, sy - j));
      const p0 = (j * inkWidth + i) * 4;
      const p2 = p0 + inkWidth * 4;
      const w0 = ((1 - u) * (1 - v) * ink[p0 + 3]!) / 255;
      const w1 = (u * (1 - v) * ink[p0 + 7]!) / 255;
      const w2 = ((1 - u) * v * ink[p2 + 3]!) / 255;
      const w3 = (u * v * ink[p2 + 7]!) / 255;
      const bare = 1 - w0 - w1 - w2 - w3;
      const far = Math.max(0, column / width - 0.4) + Math.max(0, (from + row) / height - 0.5);
      const light = 1 - fall * far;
      const grain = (random() + random() + random() - 1.5) * 2 * NOISE;
      let luma = 0;
      for (let c = 0; c < 3; c++) {
        const inked = ink[p0 + c]! * w0 + ink[p0 + 4 + c]! * w1 + ink[p2 + c]! * w2 + ink[p2 + 4 + c]! * w3;
        const lit = (inked + paper[c]! * bare) * light * onSheet + behind[c]! * (1 - onSheet);
        const value = Math.min(255, Math.max(0, lit + grain));
        if (channels === 3) band[q + c] = Math.round(value);
        else luma += value * (c === 0 ? lumaOf(1, 0, 0) : c === 1 ? lumaOf(0, 1, 0) : lumaOf(0, 0, 1));
      }
      if (channels === 1) band[q] = Math.round(luma);
    }
  }
}
