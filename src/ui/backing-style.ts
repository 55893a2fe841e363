import type { CSSProperties } from 'react';
import { api } from '../bench/api';
import { backingColors, CHECKER, pieceOfBacking, type Backing } from '../core/view/backing';

const hex = (color: number) => `#${color.toString(16).padStart(6, '0')}`;

/** A backing as a CSS background; `cellPx` is the side of a checkerboard cell. */
export function backingStyle(backing: Backing, cellPx: number = CHECKER.cellPx): CSSProperties {
  const piece = pieceOfBacking(backing);
  if (piece !== null) return { background: `center / cover url("${api.untouchedAddress(piece)}")` };
  const { light, dark } = backingColors(backing);
  if (light === dark) return { background: hex(light) };
  const size = `${2 * cellPx}px ${2 * cellPx}px`;
  return {
    background: `repeating-conic-gradient(${hex(dark)} 0 25%, ${hex(light)} 0 50%) 0 0 / ${size}`,
  };
}
