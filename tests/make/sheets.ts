import { seededRandom } from '../../src/core/numeric/random';
import type { Raster } from '../../src/core/raster/raster';
import { paint } from './pictures';

/** What a written sheet is made of; everything may be left out. */
export interface SheetOptions {
  readonly width?: number;
  readonly height?: number;
  readonly paper?: readonly [number, number, number];
  readonly ink?: readonly [number, number, number];
  /** Width of the stroke in pixels. */
  readonly wide?: number;
  /** Light at a place, as a factor. */
  readonly light?: (x: number, y: number) => number;
  /** Distance of ruled lines; none where it is left out. */
  readonly rules?: number;
  /** How the rules run, in degrees. */
  readonly rulesDeg?: number;
  readonly grain?: number;
}

/** How much of a pixel the stroke covers: waves across the middle of a sheet. */
export function strokeAt(
  x: number,
  y: number,
  { width = 360, height = 200, wide = 4 }: SheetOptions,
): number {
  const line = height / 2 + (height / 5) * Math.sin(x / 23);
  const slope = ((height / 5) * Math.cos(x / 23)) / 23;
  const far = x > width * 0.12 && x < width * 0.88 ? Math.abs(y - line) / Math.hypot(1, slope) : 99;
  return Math.min(1, Math.max(0, wide / 2 + 0.5 - far));
}

/** A sheet with a stroke of ink, drawn as the mixture that software makes. */
export function writtenSheet(options: SheetOptions = {}): Raster {
  const { width = 360, height = 200, paper = [244, 238, 222], ink = [26, 29, 60], grain = 0 } = options;
  const { light = () => 1, rules, rulesDeg = 0 } = options;
  const random = seededRandom(11);
  const slope = Math.tan((rulesDeg * Math.PI) / 180);
  return paint(width, height, (x, y) => {
    const alpha = strokeAt(x, y, options);
    const across = y - slope * (x - width / 2) - 12;
    const off = rules ? Math.abs(across - rules * Math.round(across / rules)) : 9;
    const rule = Math.min(1, Math.max(0, 1.2 - off));
    const share = [1 - 0.3 * rule, 1 - 0.2 * rule, 1 - 0.08 * rule];
    const noise = grain * 2 * (random() + random() + random() - 1.5);
    const channel = (c: number) => {
      const mixed = (ink[c]! * alpha + paper[c]! * share[c]! * (1 - alpha)) * light(x, y) + noise;
      return Math.round(Math.min(255, Math.max(0, mixed)));
    };
    return [channel(0), channel(1), channel(2)];
  });
}
