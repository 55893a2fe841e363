import type { Cut } from '../cut/schema';
import type { Raster } from '../raster/raster';
import type { Output } from '../stages/deliver/output-settings';
import { dpiAt } from '../stages/deliver/print';
import { printedOutputs, printOf, type WantedPrint } from '../stages/deliver/print-key';
import { contentOf } from '../stages/prepare/content';
import { foundAt, type Finding, type Fix } from './finding';

/** Whether the cutout has too few pixels for a print size that is wanted. `amount` is the resolution it would have. */
export function findPrintSize(
  cutout: Pick<Raster, 'width' | 'height'> & Partial<Pick<Raster, 'data'>>,
  cut: Cut,
): Finding | null {
  const { width, height } = cutout;
  const { print } = cut.deliver;
  if (print) {
    const found = tooFew(width, width, height, print);
    if (found) return found;
  }
  for (const output of printedOutputs(cut)) {
    const content = output.size.trim && cutout.data ? contentOf(cutout as Raster, 0) : null;
    const found = tooFew(content?.width ?? width, width, height, printOf(output)!);
    if (found) return found;
  }
  return null;
}

function tooFew(
  px: number,
  width: number,
  height: number,
  { widthMm, leastDpi }: WantedPrint,
): Finding | null {
  const dpi = dpiAt(px, widthMm);
  if (dpi >= leastDpi) return null;
  const place = { x: 0, y: 0, width: px, height, at: { x: 0, y: 0 }, pixels: width * height };
  return foundAt(
    'print-size',
    'doubt',
    [place],
    `${px} px over ${widthMm} mm are ${Math.floor(dpi)} dpi, and ${leastDpi} are wanted.`,
    dpi,
  );
}

/** As wide as the pixels suffice for, in whole millimeters; no print size where that is none. */
export const printSmaller: Fix = (cut, [place]) => {
  if (!place) return cut;
  const enough = ({ widthMm, leastDpi }: WantedPrint) =>
    Math.min(widthMm, Math.floor(dpiAt(place.width, leastDpi)));
  const { print } = cut.deliver;
  const widthMm = print ? enough(print) : 0;
  const outputs = cut.deliver.outputs.map((output): Output => {
    const wanted = printOf(output);
    if (!wanted || !('to' in output.size)) return output;
    const to = { kind: 'print', widthMm: Math.max(1, enough(wanted)), dpi: wanted.leastDpi } as const;
    return { ...output, size: { ...output.size, to } } as Output;
  });
  return {
    ...cut,
    deliver: { ...cut.deliver, print: print && widthMm >= 1 ? { ...print, widthMm } : null, outputs },
  };
};
