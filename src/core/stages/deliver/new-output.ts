import type { OutputFormat } from '../../formats';
import { AS_IT_IS, type Output, type OutputSize } from './output-settings';

/** The quality that lossy files begin with. */
const FIRST_QUALITY = 90;

/** An output in a format, with what only that format has as it begins; its size is kept from another output. */
export function outputIn(format: OutputFormat, size: Output['size'] = AS_IT_IS): Output {
  const sized: OutputSize = 'to' in size ? size : { ...size, to: AS_IT_IS.to };
  switch (format) {
    case 'webp':
    case 'avif':
      return { format, quality: format === 'webp' ? null : FIRST_QUALITY, size: sized };
    case 'tiff':
      return { format, compression: 'deflate', size: sized };
    case 'gif':
      return { format, threshold: 128, matte: '#ffffff', size: sized };
    case 'jpeg':
      return { format, quality: FIRST_QUALITY, backing: '#ffffff', size: sized };
    case 'svg':
      return { format, errorPx: 0.1, size: sized };
    case 'ico': {
      const { trim, padding, kernel, light } = sized;
      return { format, sidesPx: [16, 32, 48], size: { trim, padding, kernel, light } };
    }
    default:
      return { format, size: sized };
  }
}
