import { lumaOf } from '../color/luma';
import { rgbOfHex } from '../color/hex';

/** A neutral backing on which a color is seen well: paper for dark ones, a dark board for light ones. */
export function fittingBacking(color: string): string {
  const { red, green, blue } = rgbOfHex(color);
  return lumaOf(red, green, blue) > 140 ? '#2b2b2b' : '#f4f4f4';
}
