import type { Cut } from '../cut/schema';
import { dpiAt } from '../stages/deliver/print';
import { foundAt, type Finding, type Fix } from './finding';

/** Whether the cutout has too few pixels for the print size that is wanted. `amount` is the resolution it would have. */
export function findPrintSize(
  size: { readonly width: number; readonly height: number },
  { deliver: { print } }: Cut,
): Finding | null {
  if (!print) return null;
  const dpi = dpiAt(size.width, print.widthMm);
  if (dpi >= print.leastDpi) return null;
  const place = { x: 0, y: 0, ...size, at: { x: 0, y: 0 }, pixels: size.width * size.height };
  return foundAt(
    'print-size',
    'doubt',
    [{ ...place, width: size.width, height: size.height }],
    `${size.width} px over ${print.widthMm} mm are ${Math.floor(dpi)} dpi, and ${print.leastDpi} are wanted.`,
    dpi,
  );
}

/** As wide as the pixels suffice for, in whole millimeters; no print size where that is none. */
export const printSmaller: Fix = (cut, [place]) => {
  const { print } = cut.deliver;
  if (!print || !place) return cut;
  const widthMm = Math.floor(dpiAt(place.width, print.leastDpi));
  return { ...cut, deliver: { ...cut.deliver, print: widthMm < 1 ? null : { ...print, widthMm } } };
};
