import { AS_IT_IS, NO_PADDING, type Output, type OutputSize, type Target } from './output-settings';
import type { Deliver } from './settings';

/** Several files under one name, that can be laid on any piece. */
export interface OutputSet {
  readonly name: string;
  readonly outputs: readonly Output[];
  readonly hidden: Deliver['hidden'];
}

const sized = (to: Target, change: Partial<OutputSize> = {}): OutputSize => ({ ...AS_IT_IS, to, ...change });

const around = (side: number, unit: 'px' | 'mm' | '%') => ({
  ...NO_PADDING,
  top: side,
  right: side,
  bottom: side,
  left: side,
  unit,
});

/** The sets that are there before anybody made one. */
export const FIRST_SETS: readonly OutputSet[] = [
  {
    name: 'site',
    hidden: 'removed',
    outputs: [
      { format: 'webp', quality: null, size: sized({ kind: 'width', px: 400 }, { trim: true }) },
      { format: 'webp', quality: null, size: sized({ kind: 'width', px: 800 }, { trim: true }) },
      { format: 'png', size: sized({ kind: 'width', px: 800 }, { trim: true }) },
      {
        format: 'ico',
        sidesPx: [16, 32, 48],
        size: { trim: true, padding: NO_PADDING, kernel: 'cubic', light: 'linear' },
      },
    ],
  },
  {
    name: 'print',
    hidden: 'removed',
    outputs: [
      {
        format: 'tiff',
        compression: 'lzw',
        size: sized({ kind: 'print', widthMm: 85, dpi: 300 }, { trim: true }),
      },
      { format: 'pdf', size: sized({ kind: 'print', widthMm: 85, dpi: 300 }, { trim: true }) },
    ],
  },
  {
    name: 'shop',
    hidden: 'removed',
    outputs: [
      {
        format: 'jpeg',
        quality: 90,
        backing: '#ffffff',
        size: sized(
          { kind: 'canvas', widthPx: 2000, heightPx: 2000, anchor: 'center' },
          { trim: true, padding: around(5, '%') },
        ),
      },
      {
        format: 'png',
        size: sized(
          { kind: 'canvas', widthPx: 2000, heightPx: 2000, anchor: 'center' },
          { trim: true, padding: around(5, '%') },
        ),
      },
    ],
  },
];

/** Settings of Deliver with the files of a set. */
export function withSet(deliver: Deliver, { outputs, hidden }: OutputSet): Deliver {
  return { ...deliver, outputs: [...outputs], hidden };
}
