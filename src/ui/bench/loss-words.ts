import type { FileFindings } from '../../bench/api';
import { isOutputFormat, OUTPUT_FORMATS } from '../../core/formats';
import { formatNumber } from '../format';

/** How far a file in a format lies from the pixels it was made of, in words. */
export function lossWords(
  format: string,
  { color, alpha, scale }: Pick<FileFindings, 'color' | 'alpha' | 'scale'>,
): string {
  const enlarged = scale > 1.005 ? ` Enlarged ${formatNumber(scale, 1)} times.` : '';
  const hasAlpha = !isOutputFormat(format) || OUTPUT_FORMATS[format].alpha !== 'none';
  if (hasAlpha && color.largest === 0 && alpha.largest === 0) return `Every pixel exact.${enlarged}`;
  const words = [
    color.largest > 0 ? `color off by ${small(color.mean, 1)} of 255 in the mean` : 'color exact',
    ...(!hasAlpha ? [] : [alpha.largest > 0 ? `alpha by ${small(alpha.mean, 2)}` : 'alpha exact']),
  ];
  return `${words.join(', ')}.${enlarged}`.replace(/^./, (letter) => letter.toUpperCase());
}

/** A number above 0 that never reads as 0. */
function small(value: number, digits: number): string {
  const least = 1 / 10 ** digits;
  return value < least ? `under ${least}` : formatNumber(value, digits);
}
