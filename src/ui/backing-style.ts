import type { CSSProperties } from 'react';
import { CHECKER, type Backing } from '../core/view/backing';

const hex = (color: number) => `#${color.toString(16).padStart(6, '0')}`;

/** A backing as a CSS background; `cellPx` is the side of a checkerboard cell. */
export function backingStyle(backing: Backing, cellPx: number = CHECKER.cellPx): CSSProperties {
  if (backing !== 'checker') return { background: backing };
  const light = hex(CHECKER.light);
  const dark = hex(CHECKER.dark);
  return {
    background: `repeating-conic-gradient(${dark} 0 25%, ${light} 0 50%) 0 0 / ${2 * cellPx}px ${2 * cellPx}px`,
  };
}
