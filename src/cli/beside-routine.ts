import { rmSync } from 'node:fs';
import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Routine } from '../core/routine/settings';
import { layBeside, namingMaterials, withWatermark } from '../engine/node/materials';
import type { MaterialFiles } from '../engine/node/shape-texts';

/** A routine, and where the fonts and cutouts lie that its watermark names. */
export interface LaidRoutine {
  readonly routine: Routine;
  readonly materials: MaterialFiles;
}

/**
 * Lays the fonts and cutouts that a routine has in it into a folder beside it for as long as `work` runs, so that they are read once
 * and not sent along with every picture.
 */
export async function besideRoutine<T>(
  { routine, materials }: LaidRoutine,
  work: (laid: LaidRoutine) => Promise<T>,
): Promise<T> {
  if (!routine.mark) return work({ routine, materials });
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-materials-'));
  const remove = () => rmSync(folder, { recursive: true, force: true });
  // Ctrl+C ends the process without going back through here.
  process.on('exit', remove);
  try {
    const files = { ...materials };
    const keep = layBeside(folder, files);
    const named = await withWatermark(routine, (watermark) => namingMaterials(watermark, keep));
    return await work({ routine: named, materials: files });
  } finally {
    process.off('exit', remove);
    remove();
  }
}
