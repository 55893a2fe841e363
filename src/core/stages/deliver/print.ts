import type { Cut } from '../../cut/schema';

const MM_PER_INCH = 25.4;

/** The resolution at which so many pixels fill a width, in dots per inch. */
export function dpiAt(widthPx: number, widthMm: number): number {
  return (widthPx * MM_PER_INCH) / widthMm;
}

/** The resolution that is written into a file of that width: that of the print size, or what the original came with. */
export function deliveredDpi(
  { deliver: { print } }: Cut,
  widthPx: number,
  dpi: number | null,
): number | null {
  return print ? dpiAt(widthPx, print.widthMm) : dpi;
}
