import path from 'node:path';
import sqlite3 from 'sqlite3';
import { parseWatermarkText } from '../../core/watermark/parse';
import type { Watermark } from '../../core/watermark/settings';
import { DATABASE_FILE, isOwnDatabase, rowsOf, withConnection } from '../../storage/database-file';

/**
 * The watermark of that name as the house used it last, read without opening the house, which may be at work. Null where there is
 * none; with the names of those that there are.
 */
export async function savedWatermark(
  name: string,
  environment: NodeJS.ProcessEnv,
): Promise<{ readonly watermark: Watermark | null; readonly names: string[] }> {
  const file = path.join(environment.KENOSIS_DATA ?? 'data', DATABASE_FILE);
  if (!(await isOwnDatabase(file))) return { watermark: null, names: [] };
  const rows = await withConnection(file, sqlite3.OPEN_READONLY, (connection) =>
    rowsOf<{ name: string; whole: string }>(
      connection,
      "SELECT name, whole FROM watermarks WHERE whole <> '' ORDER BY changed_at DESC, id DESC",
    ),
  ).catch(() => []);
  const found = rows.find((row) => row.name === name);
  return { watermark: found ? parseWatermarkText(found.whole) : null, names: rows.map((row) => row.name) };
}
