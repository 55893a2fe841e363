import type { FontSource } from './settings';

/** A glyph as a font draws it, in sizes of the letters: 1 is the size, y runs up from the baseline. */
export interface Glyph {
  /** `PATH` codes, each followed by its numbers. */
  readonly path: readonly number[];
  readonly advance: number;
  /** How far it lies from where it would stand. */
  readonly dx: number;
  readonly dy: number;
}

/** What the numbers of a glyph's path mean: a code, then the points of that part of the path. */
export const PATH = { move: 0, line: 1, quadratic: 2, cubic: 3, close: 4 } as const;

/** How many numbers follow each code. */
export const PATH_NUMBERS = [2, 2, 4, 6, 0] as const;

/** A line of text as it is set. */
export interface ShapedLine {
  readonly glyphs: readonly Glyph[];
}

/** What a text is set by. Lines that are set by the same key are the same. */
export interface ShapeWish {
  readonly text: string;
  readonly font: FontSource;
  readonly weight: number;
  /** Whether letters may be joined into one glyph; not where they are set apart. */
  readonly ligatures: boolean;
}
