import { writeFile } from 'node:fs/promises';
import { writeWhole } from './output';

/** Writes a value as JSON that a person can read, or to standard output for `-`. Throws `cannot-write`. */
export function writeJson(file: string, value: unknown): Promise<void> {
  return writeWhole(file, (temporary) => writeFile(temporary, `${JSON.stringify(value, null, 2)}\n`));
}
