import type { FileContent } from '../../src/codec/outputs/output-codec';
import type { OutputFormat } from '../../src/core/formats';
import type { Raster } from '../../src/core/raster/raster';
import { layOut } from '../../src/core/stages/deliver/layout';
import { outputIn } from '../../src/core/stages/deliver/new-output';
import type { Output } from '../../src/core/stages/deliver/output-settings';

export const NO_CREDIT = { author: '', copyright: '', description: '' };

/** What goes into a file of one raster as it is. */
export function fileContent(
  raster: Raster,
  output: Output | OutputFormat = 'png',
  dpi: number | null = null,
  credit = NO_CREDIT,
): FileContent {
  const { width, height } = raster;
  const made = typeof output === 'string' ? outputIn(output) : output;
  const layout = layOut(made.size, { kind: 'own' }, { width, height, content: null, dpi });
  return { rasters: [raster], cutout: raster, layout, dpi, output: made, credit };
}
