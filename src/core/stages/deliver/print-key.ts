import type { Cut } from '../../cut/schema';
import type { Output } from './output-settings';

/** A width on paper, and the resolution that is wanted there. */
export interface WantedPrint {
  readonly widthMm: number;
  readonly leastDpi: number;
}

/** Files that are made so large on paper, of pixels; an outline needs none. */
export function printedOutputs({ deliver }: Cut): readonly Output[] {
  return deliver.outputs.filter((output) => output.format !== 'svg' && printOf(output) !== null);
}

/** How large a file is made on paper; null where it is made as large as pixels say. */
export function printOf({ size }: Output): WantedPrint | null {
  if (!('to' in size) || size.to.kind !== 'print') return null;
  return { widthMm: size.to.widthMm, leastDpi: size.to.dpi };
}

/** What of a cut's files decides whether its pixels suffice for print: equal where that is the same. */
export function printKey(cut: Cut): unknown {
  return [cut.deliver.print, printedOutputs(cut).map(({ size }) => size)];
}
