import type { OutputFormat } from '../core/formats';
import type { Raster } from '../core/raster/raster';
import { verifyPng, writePng, type ReadBack } from './png';

/** How files of a format are written, and read back and compared. */
export interface Output {
  write(raster: Raster, dpi: number | null, path: string): Promise<void>;
  /** Throws `verification-failed` where the file does not hold the raster. */
  verify(path: string, expected: Raster): Promise<ReadBack>;
}

export const OUTPUTS: Readonly<Record<OutputFormat, Output>> = {
  png: { write: writePng, verify: verifyPng },
};
