import type { InputFormat } from '../../core/formats';
import { BMP } from './bmp';
import { HEIC } from './heic';
import { JPEG_2000 } from './jpeg2000';
import { PDF } from './pdf';
import type { Reader } from './reader';
import { SVG } from './svg';

/** Who reads the formats that the picture library does not read, or not so that it would be safe. */
const READERS = [HEIC, BMP, SVG, PDF, JPEG_2000];

/** The reader of a format; null where the picture library reads it. */
export function readerOf(format: InputFormat): Reader | null {
  return READERS.find((reader) => reader.format === format) ?? null;
}
