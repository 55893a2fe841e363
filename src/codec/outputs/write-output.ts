import type { Cut } from '../../core/cut/schema';
import { runToEnd } from '../../core/numeric/steps';
import type { Raster, Rect } from '../../core/raster/raster';
import type { Output, Target } from '../../core/stages/deliver/output-settings';
import { deliveredDpi } from '../../core/stages/deliver/print';
import { bled, shapeSteps, targetsOf, type ShapedOutput } from '../../core/stages/deliver/shape-output';
import { contentOf } from '../../core/stages/prepare/content';
import { syncFile } from '../sync-file';
import type { FileContent, Verified } from './output-codec';
import { OUTPUTS } from './outputs';

/** What was written. */
export interface Written {
  readonly verified: Verified;
  /** Pixels of the file per pixel of the cutout; above 1 it was enlarged. */
  readonly scale: number;
}

/**
 * Writes a cutout that is ready (its hidden color removed) as one file to `path`: laid out, with its hidden color bled where the
 * cut says so, synced, read back and compared. `dpi` is the original's resolution. Throws `verification-failed`, and
 * `bad-argument` where padding leaves no room or the file would be too large.
 */
export async function writeOutput(
  cutout: Raster,
  cut: Cut,
  output: Output,
  dpi: number | null,
  path: string,
): Promise<Written> {
  const shapes = shapesOf(cutout);
  const content = output.size.trim ? (shapes.content ??= contentOf(cutout, 0)) : null;
  const own = deliveredDpi(cut, cutout.width, dpi);
  const shaped = targetsOf(output).map((target) => shapes.shape(output, target, content, own));
  const bleeds = cut.deliver.hidden === 'bled' && output.format !== 'pdf';
  const rasters = shaped.map(({ raster }) => (bleeds ? bled(raster) : raster));
  const [{ layout }] = shaped as [(typeof shaped)[number]];
  const { credit } = cut.deliver;
  const file: FileContent = { rasters, dpi: layout.dpi, cutout, layout, output, credit };
  const codec = OUTPUTS[output.format];
  await codec.write(file, path);
  await syncFile(path);
  return { verified: await codec.verify(path, file), scale: layout.scale };
}

/** What was made of a cutout for its files, kept for as long as the cutout is: formats of one size share it. */
class Shapes {
  content: Rect | null = null;
  private readonly made = new Map<string, ShapedOutput>();
  private pixels = 0;

  constructor(private readonly cutout: Raster) {}

  shape(output: Output, target: Target, content: Rect | null, dpi: number | null): ShapedOutput {
    const key = JSON.stringify([output.size, target, dpi]);
    const known = this.made.get(key);
    if (known) return known;
    const shaped = runToEnd(shapeSteps(this.cutout, output, target, { content, dpi }));
    const { width, height } = shaped.raster;
    if (shaped.raster === this.cutout) return shaped;
    // All of them together have no more pixels than the cutout.
    if (this.pixels + width * height > this.cutout.width * this.cutout.height) {
      this.made.clear();
      this.pixels = 0;
    }
    this.made.set(key, shaped);
    this.pixels += width * height;
    return shaped;
  }
}

const known = new WeakMap<Raster, Shapes>();

function shapesOf(cutout: Raster): Shapes {
  let shapes = known.get(cutout);
  if (!shapes) known.set(cutout, (shapes = new Shapes(cutout)));
  return shapes;
}
