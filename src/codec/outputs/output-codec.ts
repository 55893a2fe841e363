import type { Raster } from '../../core/raster/raster';
import type { Layout } from '../../core/stages/deliver/layout';
import type { Output } from '../../core/stages/deliver/output-settings';
import type { Credit } from '../../core/stages/deliver/settings';

/** What goes into one file. */
export interface FileContent {
  /** One raster, or those of an icon; sRGB, straight alpha, their hidden color removed or bled. */
  readonly rasters: readonly Raster[];
  /** Pixels per inch; null for none. */
  readonly dpi: number | null;
  /** What it was made of, and how that was laid out. */
  readonly cutout: Raster;
  readonly layout: Layout;
  readonly output: Output;
  readonly credit: Credit;
}

/** How far the pixels of a file lie from those it was made of, in levels of 0 to 255. */
export interface Difference {
  readonly largest: number;
  readonly mean: number;
}

/** What a written file was found to hold. */
export interface Verified {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  /** How the pixels lie in it, in a few words: `palette of 12 colors`. */
  readonly kind: string;
  /** Who read it back. */
  readonly decoder: string;
  /** Whether that is another program than the one that wrote it. */
  readonly independent: boolean;
  /** Of the color of pixels that are seen, weighed by alpha. */
  readonly color: Difference;
  readonly alpha: Difference;
}

/** How files of a format are written, and read back and compared. */
export interface OutputCodec {
  write(content: FileContent, path: string): Promise<void>;
  /** Throws `verification-failed` where the file does not hold what it should, within what its format loses. */
  verify(path: string, content: FileContent): Promise<Verified>;
}

/** The settings of an output in one format. */
export type OutputOf<F extends Output['format']> = Extract<Output, { format: F }>;
