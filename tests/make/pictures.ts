import { createRaster, type Raster } from '../../src/core/raster/raster';
import { seededRandom } from '../../src/core/numeric/random';

/** A raster whose pixels come from a function: channels 0 to 255, alpha 255 where it is left out. */
export function paint(
  width: number,
  height: number,
  color: (x: number, y: number) => readonly [number, number, number, number?],
): Raster {
  const raster = createRaster(width, height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p += 4) {
      const [red, green, blue, alpha = 255] = color(x, y);
      raster.data.set([red, green, blue, alpha], p);
    }
  }
  return raster;
}

/** Blotches of a few colors with noise: many regions, many equal distances. */
export function blotches(width: number, height: number, seed: number): Raster {
  const random = seededRandom(seed);
  const colors = Array.from({ length: 5 }, () => [random() * 255, random() * 255, random() * 255] as const);
  const centers = Array.from({ length: 12 }, () => ({
    x: random() * width,
    y: random() * height,
    color: colors[Math.floor(random() * colors.length)]!,
  }));
  return paint(width, height, (x, y) => {
    const near = centers.reduce((best, center) =>
      (center.x - x) ** 2 + (center.y - y) ** 2 < (best.x - x) ** 2 + (best.y - y) ** 2 ? center : best,
    );
    const noise = () => (random() - 0.5) * 24;
    const channel = (value: number) => Math.round(Math.min(255, Math.max(0, value + noise())));
    return [channel(near.color[0]), channel(near.color[1]), channel(near.color[2])];
  });
}

/** Discs of several colors whose rim reflects the green they stand before, less and less over `fades` pixels inward. */
export function reflecting(side: number, grain: number, fades = 3.5, seed = 5): Raster {
  const random = seededRandom(seed);
  const discs = Array.from({ length: 4 }, (_, k) => ({
    x: side * (k & 1 ? 0.73 : 0.27),
    y: side * (k & 2 ? 0.73 : 0.27),
    radius: side * (0.17 + 0.05 * random()),
    color: [150 + 90 * random(), 90 * random(), 80 + 150 * random()],
    share: 0.2 + 0.25 * random(),
  }));
  const green = [40, 180, 70];
  return paint(side, side, (x, y) => {
    const noise = (random() - 0.5) * grain;
    const near = discs.reduce((best, disc) => (insideOf(disc, x, y) > insideOf(best, x, y) ? disc : best));
    const inside = insideOf(near, x, y);
    const alpha = Math.min(1, Math.max(0, inside + 0.5));
    const mixed = near.share * Math.exp(-Math.max(0, inside) / fades);
    const channel = (c: number) => {
      const shown = near.color[c]! + (green[c]! - near.color[c]!) * mixed;
      return Math.round(shown * alpha + green[c]! * (1 - alpha) + noise);
    };
    return [channel(0), channel(1), channel(2)];
  });
}

function insideOf(disc: { x: number; y: number; radius: number }, x: number, y: number): number {
  return disc.radius - Math.hypot(x - disc.x, y - disc.y);
}

/** Pixels that have nothing to do with each other. */
export function noise(width: number, height: number, seed = 1): Raster {
  const random = seededRandom(seed);
  const byte = () => Math.floor(random() * 256);
  return paint(width, height, () => [byte(), byte(), byte()]);
}

/** A white picture with a dark disc in its middle. */
export function disc(side: number, radius: number): Raster {
  const middle = (side - 1) / 2;
  return paint(side, side, (x, y) => {
    const inside = Math.min(1, Math.max(0, radius + 0.5 - Math.hypot(x - middle, y - middle)));
    const value = Math.round(255 - inside * 225);
    return [value, value, value];
  });
}

/** Discs out of focus, whose edges pass over several pixels, on a light backdrop with grain. */
export function outOfFocus(side: number, grain: number, seed = 3): Raster {
  const random = seededRandom(seed);
  const discs = Array.from({ length: 7 }, () => ({
    x: random() * side,
    y: random() * side,
    radius: 8 + random() * 16,
    width: 4 + random() * 7,
  }));
  return paint(side, side, (x, y) => {
    const shares = discs.map((disc) =>
      Math.min(1, Math.max(0, 0.5 + (disc.radius - Math.hypot(x - disc.x, y - disc.y)) / disc.width)),
    );
    const share = Math.max(...shares);
    const smooth = share * share * (3 - 2 * share);
    const noise = (random() - 0.5) * grain;
    const mix = (one: number, other: number) => Math.round(one + (other - one) * smooth + noise);
    return [mix(238, 40), mix(236, 90), mix(230, 120)];
  });
}

/** Tapered threads of one color that fan out and cross before a light ground with grain. */
export function threads(side: number, grain: number, seed = 1): Raster {
  const random = seededRandom(seed);
  const strands = Array.from({ length: Math.round(side / 8) }, () => ({
    from: side * (0.4 + 0.2 * random()),
    slope: 1.2 * (random() - 0.5),
    half: 0.5 + random(),
  }));
  return paint(side, side, (x, y) => {
    const far = y / side;
    const alpha = strands.reduce((most, { from, slope, half }) => {
      const off = Math.abs(x - from - slope * y);
      return Math.max(most, Math.min(1, Math.max(0, half * (1 - far) + 0.5 - off)));
    }, 0);
    const channel = (thread: number, ground: number) =>
      Math.round(thread * alpha + ground * (1 - alpha) + (random() - 0.5) * grain);
    return [channel(120, 236), channel(30, 232), channel(60, 240)];
  });
}

export function flipped(raster: Raster): Raster {
  return moved(raster, raster.width, raster.height, (x, y) => [raster.width - 1 - x, y]);
}

export function transposed(raster: Raster): Raster {
  return moved(raster, raster.height, raster.width, (x, y) => [y, x]);
}

function moved(
  raster: Raster,
  width: number,
  height: number,
  from: (x: number, y: number) => readonly [number, number],
): Raster {
  return paint(width, height, (x, y) => {
    const [sx, sy] = from(x, y);
    const p = (sy * raster.width + sx) * 4;
    return [raster.data[p]!, raster.data[p + 1]!, raster.data[p + 2]!, raster.data[p + 3]!];
  });
}
