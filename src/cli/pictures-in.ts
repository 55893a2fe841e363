import { lstat, readdir, stat } from 'node:fs/promises';
import path from 'node:path';
import { INPUT_ENDINGS } from '../core/formats';
import { KenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';
import type { FileToDo } from '../server/folder-runs/folder-run';

/** Pictures that were named, and those in folders that were, with what was passed over. */
export interface PicturesIn {
  readonly files: readonly FileToDo[];
  /** Files in folders whose names are none of pictures, and links. */
  readonly passedOver: number;
}

/**
 * The pictures that are meant: a file that is named, whatever it is; of a folder all whose names end as those of pictures do, in
 * folders within it too. Links in folders are not followed, and what begins with a dot is left out. Throws `not-found`.
 */
export async function picturesIn(inputs: readonly string[]): Promise<PicturesIn> {
  const files: FileToDo[] = [];
  let passedOver = 0;
  const walk = async (folder: string): Promise<void> => {
    const entries = await readdir(folder, { withFileTypes: true });
    for (const entry of entries.sort((one, other) => (one.name < other.name ? -1 : 1))) {
      const place = path.join(folder, entry.name);
      if (entry.name.startsWith('.')) continue;
      if (entry.isDirectory()) await walk(place);
      else if (entry.isFile() && INPUT_ENDINGS.includes(path.extname(entry.name).toLowerCase()))
        files.push({ path: place, name: entry.name });
      else passedOver++;
    }
  };
  for (const input of inputs) {
    try {
      if ((await stat(input)).isDirectory()) await walk(input);
      else {
        // A link that is named is meant; its file is read.
        await lstat(input);
        files.push({ path: input, name: path.basename(input) });
      }
    } catch (cause) {
      throw new KenosisError('not-found', `"${input}" cannot be read: ${wordsOf(cause)}.`, { cause });
    }
  }
  return { files, passedOver };
}
