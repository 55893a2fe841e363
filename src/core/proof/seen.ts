import { dpiAt } from '../stages/deliver/print';
import type { EdgeContrast } from './contrast';
import type { Placement } from './settings';

// What the figures of this file rest on: docs/decisions/020-proofs.md

/** Below this contrast a piece is hard to read. WCAG 2.2 wants 3 of graphics; photos have edges below that and are seen well. */
export const LEAST_CONTRAST = 2;

/** Fewer pixels than this for an inch show on paper, and more screen pixels than this for one of the piece's on a screen. */
export const LEAST_PRINT_DPI = 200;
const MOST_SCALE = 1.05;

/** As many pixels as a printer shows. */
const ENOUGH_DPI = 300;

/** What was measured of a piece at its place. */
export interface Measured {
  /** Its width in pixels of its full size. */
  readonly widthPx: number;
  readonly contrast: EdgeContrast | null;
  /** By how much old background in its edge shows here: mean color difference (CIEDE2000), and along how many pixels. */
  readonly halo: { readonly deltaE: number; readonly pixels: number } | null;
  /** The colorways in which it can be read, the best first. */
  readonly readable: readonly { readonly look: Look; readonly contrast: number }[];
}

/** Which of a piece's versions is laid. */
export type Look = Pick<Placement, 'colorway' | 'light'>;

/** Something to be said of a piece at its place, and what puts it right. */
export interface Remark {
  readonly kind: 'contrast' | 'pixels' | 'halo';
  readonly sentence: string;
  readonly fix:
    | { readonly kind: 'look'; readonly look: Look; readonly words: string }
    | { readonly kind: 'width'; readonly width: number; readonly words: string }
    | { readonly kind: 'stage'; readonly stage: 'ink' | 'edge'; readonly words: string };
}

/** Pixels for an inch on paper; on a screen screen pixels for one of the piece's, 1 being as it is. */
export function finenessOf(widthPx: number, width: number, unit: 'mm' | 'px'): number {
  return unit === 'mm' ? dpiAt(widthPx, width) : width / widthPx;
}

/** What is to be said of a piece at its place: hard to read, too few pixels, old background that shows. */
export function remarksOn(
  { widthPx, contrast, halo, readable }: Measured,
  placed: Pick<Placement, 'width'>,
  unit: 'mm' | 'px',
): Remark[] {
  const remarks: Remark[] = [];
  if (contrast && contrast.median < LEAST_CONTRAST) {
    const [best] = readable;
    remarks.push({
      kind: 'contrast',
      sentence: `Hard to read here: contrast ${contrast.median.toFixed(1)} along its edge.`,
      fix: best
        ? {
            kind: 'look',
            look: best.look,
            words: `Lay ${lookWords(best.look)}, contrast ${best.contrast.toFixed(1)}`,
          }
        : { kind: 'stage', stage: 'ink', words: 'Make a version in Ink' },
    });
  }
  const fine = finenessOf(widthPx, placed.width, unit);
  if (unit === 'mm' && fine < LEAST_PRINT_DPI) {
    const width = Math.max(1, Math.floor((widthPx / ENOUGH_DPI) * 25.4));
    remarks.push({
      kind: 'pixels',
      sentence: `Too few pixels for this size: ${Math.floor(fine)} dpi.`,
      fix: { kind: 'width', width, words: `Make it ${width}\u00a0mm wide, for ${ENOUGH_DPI}\u00a0dpi` },
    });
  }
  if (unit === 'px' && fine > MOST_SCALE)
    remarks.push({
      kind: 'pixels',
      sentence: `Enlarged to ${Math.round(100 * fine)}\u00a0% of its pixels: it looks soft.`,
      fix: { kind: 'width', width: widthPx, words: `Make it ${widthPx}\u00a0px wide` },
    });
  if (halo)
    remarks.push({
      kind: 'halo',
      sentence: `Old background shows here: a color difference of ${halo.deltaE.toFixed(1)} along ${halo.pixels}\u00a0px.`,
      fix: { kind: 'stage', stage: 'edge', words: 'Clean it in Edge' },
    });
  return remarks;
}

/** A version in words: `the light version`, `"navy"`. */
export function lookWords({ colorway, light }: Look): string {
  if (colorway !== null) return `"${colorway}"`;
  return light ? 'the light version' : 'it as it is cut';
}
