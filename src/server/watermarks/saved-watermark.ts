import { createHash } from 'node:crypto';
import { access, mkdtemp, readFile, realpath, rename, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseCut } from '../../core/cut/parse';
import { KenosisError } from '../../core/errors';
import { PLACED_PX } from '../../core/proof/looks';
import { withSources } from '../../core/watermark/materials';
import { parseWatermarkText } from '../../core/watermark/parse';
import type { CutoutPart, Watermark } from '../../core/watermark/settings';
import { createCorePool } from '../../engine/node/pool';
import { missingMaterial, type MaterialFiles } from '../../engine/node/shape-texts';
import { DATABASE_FILE, isDatabaseFile, rowsOf, withConnection } from '../../storage/database-file';
import { pieceKey, shardOf, type Shelfmark } from '../../storage/own-files';

/** A watermark as it is in force in a house, and where the fonts and cutouts lie that it names. */
export interface SavedWatermark {
  readonly watermark: Watermark;
  readonly materials: MaterialFiles;
}

/** What was found of a name: how to work with the watermark, or the names of those that there are. */
export interface FoundWatermark {
  /** Null where there is none of that name. Throws `not-found` and `missing-material` where a part of it is gone. */
  readonly found: (<T>(work: (saved: SavedWatermark) => Promise<T>) => Promise<T>) | null;
  readonly names: readonly string[];
}

/**
 * The watermark of that name as it is in force in the house whose data folder `KENOSIS_DATA` names, read without opening the house,
 * which may be at work. Throws `damaged-database` where it cannot be read.
 */
export async function savedWatermark(name: string, environment: NodeJS.ProcessEnv): Promise<FoundWatermark> {
  const root = environment.KENOSIS_DATA ?? 'data';
  const file = path.join(root, DATABASE_FILE);
  if (!(await isDatabaseFile(file))) return { found: null, names: [] };
  const rows = await read<{ name: string; content: string }>(
    file,
    `SELECT watermarks.name AS name, content FROM watermarks JOIN watermark_steps
     ON watermark_id = watermarks.id AND number = position ORDER BY changed_at DESC, watermarks.id DESC`,
  );
  const row = rows.find((one) => one.name === name);
  const names = [...new Set(rows.map((one) => one.name))];
  if (!row) return { found: null, names };
  const watermark = parseWatermarkText(row.content);
  return { names, found: (work) => withMaterials(root, watermark, work) };
}

/** Rows of a database that another process may have open. A table that is not there yet has none. */
async function read<Row>(file: string, sql: string): Promise<Row[]> {
  try {
    return await withConnection(file, 'read', (connection) => rowsOf<Row>(connection, sql));
  } catch (cause) {
    if (/no such table/.test((cause as Error).message)) return [];
    throw new KenosisError(
      'damaged-database',
      `The watermarks in ${file} cannot be read (${(cause as Error).message}). Nothing was marked. Start Kenosis with these data: it says what is wrong with them.`,
      { cause },
    );
  }
}

/** Works with a watermark whose cutouts are made for as long as that takes. */
async function withMaterials<T>(
  root: string,
  watermark: Watermark,
  work: (saved: SavedWatermark) => Promise<T>,
): Promise<T> {
  const folder = await mkdtemp(path.join(tmpdir(), 'kenosis-cutouts-'));
  const materials: Record<string, MaterialFiles[string]> = {};
  const placeOf = (kind: Shelfmark, key: string) => path.join(root, kind, shardOf(key), key);
  const note = async (kind: 'font' | 'cutout', name: string, file: string) => {
    const place = placeOf(kind === 'font' ? 'fonts' : 'materials', file);
    if (!(await stat(place).catch(() => null))?.isFile()) throw missingMaterial(kind, name);
    materials[file] = { path: place, name };
  };
  try {
    const used = await withSources(watermark, {
      async font(font) {
        if (font.kind === 'brought') await note('font', font.name, font.file);
        return font;
      },
      async cutout(source) {
        if (source.kind === 'kept') await note('cutout', source.name, source.file);
        if (source.kind !== 'piece') return source;
        const { name, file, place } = await cutoutOf(root, source, folder);
        materials[file] = { path: place, name };
        return { kind: 'kept', name, file };
      },
    });
    return await work({ watermark: used, materials });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Makes the cutout of a piece as it is in force. Throws `not-found`, and what rendering it throws. */
async function cutoutOf(
  root: string,
  { piece, colorway, light }: Extract<CutoutPart['source'], { kind: 'piece' }>,
  folder: string,
) {
  // The id is checked by the document's schema: hex digits.
  const [row] = await read<{ name: string; sha256: string; createdAt: string; cut: string }>(
    path.join(root, DATABASE_FILE),
    `SELECT name, sha256, pieces.created_at AS createdAt, cut FROM pieces JOIN revisions ON piece_id = id AND number = position
     WHERE id = '${piece}' AND trashed_at IS NULL`,
  );
  if (!row)
    throw new KenosisError(
      'not-found',
      'A piece of this watermark is not on the Shelf any more. Nothing was marked. Choose another cutout there.',
    );
  const key = pieceKey({ id: piece, createdAt: row.createdAt });
  const decisions = path.join(root, 'decisions', shardOf(key), key);
  const pool = createCorePool(1);
  try {
    const outPath = path.join(folder, piece);
    await pool.run(
      'placed',
      {
        originalPath: await realpath(path.join(root, 'originals', shardOf(row.sha256), row.sha256)),
        originalName: row.name,
        cut: parseCut(JSON.parse(row.cut)),
        decisionsPath: await access(decisions).then(
          () => decisions,
          () => null,
        ),
        look: { colorway, light },
        mostPx: PLACED_PX,
        outPath,
      },
      { pixels: 100e6 },
    );
    const file = createHash('sha256')
      .update(await readFile(outPath))
      .digest('hex');
    const place = path.join(folder, file);
    await rename(outPath, place);
    return { name: row.name, file, place };
  } finally {
    await pool.close();
  }
}
