import { OUTPUT_FORMATS } from '../../formats';
import type { Output } from './output-settings';

/** A file of a delivery in a few words: `WebP 800 px wide`. */
export function outputWords(output: Output): string {
  const { name } = OUTPUT_FORMATS[output.format];
  const size = sizeWords(output);
  return size === '' ? name : `${name} ${size}`;
}

/** How large a file is made, in a few words; empty where it is as large as the cutout. */
export function sizeWords(output: Output): string {
  if (output.format === 'ico') return `${output.sidesPx.join(', ')} px`;
  const { to, trim } = output.size;
  switch (to.kind) {
    case 'own':
      return trim ? 'trimmed' : '';
    case 'scale':
      return `${to.factor}x`;
    case 'width':
      return `${to.px} px wide`;
    case 'height':
      return `${to.px} px high`;
    case 'canvas':
      return `${to.widthPx} x ${to.heightPx} px`;
    case 'print':
      return `${to.widthMm} mm at ${to.dpi} dpi`;
  }
}
