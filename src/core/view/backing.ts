import { badArgument } from '../errors';

/**
 * What a cutout is shown on: a checkerboard (`checker`, `checker-dark`), one color (`#rrggbb`), or the picture of a piece
 * (`piece:` and its id).
 */
export type Backing = string;

export function isBacking(value: string): value is Backing {
  return value in CHECKERS || /^#[0-9a-f]{6}$/.test(value) || pieceOfBacking(value) !== null;
}

/** The id of the piece whose picture a backing is; null for all others. */
export function pieceOfBacking(value: Backing): string | null {
  return /^piece:([0-9a-f]{16})$/.exec(value)?.[1] ?? null;
}

/** The backings that have a swatch, in the order in which a key steps through them. */
export const BACKINGS: readonly { readonly value: Backing; readonly name: string }[] = [
  { value: 'checker', name: 'Checkerboard' },
  { value: 'checker-dark', name: 'Dark checkerboard' },
  { value: '#ffffff', name: 'White' },
  { value: '#808080', name: 'Middle gray' },
  { value: '#000000', name: 'Black' },
  { value: '#ff00ff', name: 'Magenta' },
];

/** The two tones of the checkerboard, `0xrrggbb`, and the side of a cell in screen pixels. */
export const CHECKER = { light: 0xf2f2f2, dark: 0xd9d9d9, cellPx: 12 } as const;

/** The tones of both checkerboards. */
const CHECKERS: Readonly<Record<string, { readonly light: number; readonly dark: number }>> = {
  checker: { light: CHECKER.light, dark: CHECKER.dark },
  'checker-dark': { light: 0x3d3d3d, dark: 0x2a2a2a },
};

/** What a picture is shown on as long as it is not there. */
const INSTEAD_COLOR = 0x808080;

/** The two colors of a backing, `0xrrggbb`; equal unless it is a checkerboard. */
export function backingColors(backing: Backing): { readonly light: number; readonly dark: number } {
  if (CHECKERS[backing]) return CHECKERS[backing];
  if (!isBacking(backing))
    throw badArgument('backing', 'checker, checker-dark, #rrggbb or piece:ID', backing);
  const color = pieceOfBacking(backing) === null ? Number.parseInt(backing.slice(1), 16) : INSTEAD_COLOR;
  return { light: color, dark: color };
}
