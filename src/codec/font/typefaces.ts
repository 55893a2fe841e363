import { readFile } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { TYPEFACES, type Typeface } from '../../core/watermark/settings';

/** Parts that a typeface's letters are in, in the order in which a letter is looked for; some have not all of them. */
const SUBSETS = ['latin', 'latin-ext', 'cyrillic', 'greek', 'vietnamese'] as const;

/** The weight of a typeface that is nearest to a wished one. */
export function nearestWeight(which: Typeface, wished: number): number {
  const { weights } = TYPEFACES[which];
  return weights.reduce<number>(
    (best, one) => (Math.abs(one - wished) < Math.abs(best - wished) ? one : best),
    weights[0],
  );
}

/** Where a typeface's package lies: with the packages of the bundle that runs, or of the folder that the process runs in. */
function folderOf(which: Typeface): string {
  const roots = [
    path.join(path.dirname(fileURLToPath(import.meta.url)), '..'),
    /*turbopackIgnore: true*/ process.cwd(),
  ];
  const places = roots
    .flatMap(foldersAbove)
    .map((root) => path.join(root, 'node_modules', '@fontsource', which, 'files'));
  return places.find((one) => existsSync(one)) ?? places[0]!;
}

/** A folder and those that it lies in: an installed program may have its packages beside it. */
function foldersAbove(folder: string): string[] {
  const above = path.dirname(folder);
  return above === folder ? [folder] : [folder, ...foldersAbove(above)];
}

/** The font files of a typeface that ships in the weight nearest to the wished one: one for each part of its letters. */
export async function typefaceFiles(which: Typeface, weight: number): Promise<Buffer[]> {
  const folder = folderOf(which);
  const own = nearestWeight(which, weight);
  const files = await Promise.all(
    SUBSETS.map((subset) =>
      readFile(path.join(folder, `${which}-${subset}-${own}-normal.woff2`)).catch(() => null),
    ),
  );
  return files.filter((file) => file !== null);
}
