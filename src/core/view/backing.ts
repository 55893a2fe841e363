import { badArgument } from '../errors';

/** What a cutout is shown on: the checkerboard (`checker`) or one color, `#rrggbb`. */
export type Backing = string;

export function isBacking(value: string): value is Backing {
  return value === 'checker' || /^#[0-9a-f]{6}$/.test(value);
}

/** The backings that have a swatch, in the order in which a key steps through them. */
export const BACKINGS: readonly { readonly value: Backing; readonly name: string }[] = [
  { value: 'checker', name: 'Checkerboard' },
  { value: '#ffffff', name: 'White' },
  { value: '#808080', name: 'Middle gray' },
  { value: '#000000', name: 'Black' },
  { value: '#ff00ff', name: 'Magenta' },
];

/** The two tones of the checkerboard, `0xrrggbb`, and the side of a cell in screen pixels. */
export const CHECKER = { light: 0xf2f2f2, dark: 0xd9d9d9, cellPx: 12 } as const;

/** The two colors of a backing, `0xrrggbb`; equal unless it is the checkerboard. */
export function backingColors(backing: Backing): { readonly light: number; readonly dark: number } {
  if (backing === 'checker') return CHECKER;
  if (!isBacking(backing)) throw badArgument('backing', 'checker or #rrggbb', backing);
  const color = Number.parseInt(backing.slice(1), 16);
  return { light: color, dark: color };
}
