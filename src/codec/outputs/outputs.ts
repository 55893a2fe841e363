import type { OutputFormat } from '../../core/formats';
import { ICO } from './ico';
import type { OutputCodec } from './output-codec';
import { PDF } from './pdf';
import { AVIF, GIF, JPEG, TIFF, WEBP } from './pictures';
import { PNG } from './png';
import { SVG } from './svg';

/** How files of each format are written and read back. */
export const OUTPUTS: Readonly<Record<OutputFormat, OutputCodec>> = {
  png: PNG,
  webp: WEBP,
  avif: AVIF,
  tiff: TIFF,
  gif: GIF,
  jpeg: JPEG,
  svg: SVG,
  pdf: PDF,
  ico: ICO,
};
