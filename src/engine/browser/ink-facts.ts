import { hexOfRgb } from '../../core/color/hex';
import { createRaster, type Raster } from '../../core/raster/raster';
import { evenMid } from '../../core/stages/clear/by-ink/levels';
import { readInk, type ChannelReading } from '../../core/stages/clear/by-ink/points';
import { CHANNELS, histogramOf, READINGS } from '../../core/stages/clear/by-ink/reading';
import type { Channel } from '../../core/stages/clear/settings';
import type { ChannelFacts, InkFacts } from '../protocol';
import type { SizedBoard } from './board';

/** Pixels that are read at full size. */
const READ_PIXELS = 700_000;

/** A small picture is at most so wide and high. */
const PICTURE = { width: 84, height: 44 };

/** What a board's picture shows of ink in every channel. */
export function inkFactsOf({ sizes }: SizedBoard): InkFacts {
  const rows = someRows(sizes[0]!.scene.raster);
  const reading = readInk([rows]);
  const small = sizes.at(-1)!.scene.raster;
  const channels = CHANNELS.map((channel, k): ChannelFacts => {
    const read: ChannelReading = reading?.channels[k] ?? guessed(channel);
    return { ...read, histogram: [...histogramOf(rows, channel)], picture: pictureOf(small, channel) };
  });
  const [red, green, blue] = reading?.color ?? [0, 0, 0];
  return { told: reading !== null, color: hexOfRgb(red, green, blue), channels };
}

function guessed(channel: Channel): ChannelReading {
  return { channel, score: 0, black: 60, mid: evenMid(60, 220), white: 220 };
}

/** Rows taken from all over a raster. */
function someRows(raster: Raster): Raster {
  const { width, height, data } = raster;
  const count = Math.min(height, Math.max(1, Math.floor(READ_PIXELS / width)));
  if (count === height) return raster;
  const out = createRaster(width, count);
  for (let k = 0; k < count; k++) {
    const y = Math.floor((k * height) / count);
    out.data.set(data.subarray(y * width * 4, (y + 1) * width * 4), k * width * 4);
  }
  return out;
}

function pictureOf({ width, height, data }: Raster, channel: Channel): ChannelFacts['picture'] {
  const scale = Math.max(width / PICTURE.width, height / PICTURE.height);
  const w = Math.max(1, Math.round(width / scale));
  const h = Math.max(1, Math.round(height / scale));
  const gray = new Uint8Array(w * h);
  const { red, green, blue, plus } = READINGS[channel];
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      // The mean of what falls into the small pixel.
      const x0 = Math.floor((x * width) / w);
      const x1 = Math.max(x0 + 1, Math.floor(((x + 1) * width) / w));
      const y0 = Math.floor((y * height) / h);
      const y1 = Math.max(y0 + 1, Math.floor(((y + 1) * height) / h));
      let sum = 0;
      for (let v = y0; v < y1; v++)
        for (let u = x0; u < x1; u++) {
          const p = (v * width + u) * 4;
          sum += red * data[p]! + green * data[p + 1]! + blue * data[p + 2]! + plus;
        }
      gray[y * w + x] = Math.min(255, Math.max(0, Math.round(sum / ((x1 - x0) * (y1 - y0)))));
    }
  }
  return { width: w, height: h, gray };
}
