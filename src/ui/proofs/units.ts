import type { KnownGroundFacts } from '../../bench/proofs-api';
import { formatNumber } from '../format';

/** A length in a ground's unit: `52 mm`, `400 px`. */
export function lengthWords(value: number, unit: KnownGroundFacts['unit']): string {
  return `${formatNumber(value, unit === 'mm' ? 1 : 0)}\u00a0${unit}`;
}

/** `210 x 297 mm` */
export function sizeWords({ width, height, unit }: KnownGroundFacts): string {
  const digits = unit === 'mm' ? 1 : 0;
  return `${formatNumber(width, digits)} x ${formatNumber(height, digits)}\u00a0${unit}`;
}
