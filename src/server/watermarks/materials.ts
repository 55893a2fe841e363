import { createHash } from 'node:crypto';
import { readFile, writeFile } from 'node:fs/promises';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { Op, type Transaction } from 'sequelize';
import { syncFile } from '../../codec/sync-file';
import { KenosisError } from '../../core/errors';
import { PLACED_PX } from '../../core/proof/looks';
import { parseRoutineText } from '../../core/routine/parse';
import type { Routine } from '../../core/routine/settings';
import { materialsOf, withSources } from '../../core/watermark/materials';
import type { CutoutPart, Watermark } from '../../core/watermark/settings';
import { namingMaterials, withWatermark, type KeepMaterial } from '../../engine/node/materials';
import { missingMaterial, type MaterialFiles } from '../../engine/node/shape-texts';
import type { Database } from '../../storage/database';
import { currentCut, getPiece } from '../../storage/pieces';
import { listFonts } from '../../storage/watermarks';
import { importPiece } from '../import-piece';
import { placedPictureOf } from '../proofs/placed-picture';
import type { House } from '../rooms';
import { bringFont } from './fonts';

type PieceSource = Extract<CutoutPart['source'], { kind: 'piece' }>;

/**
 * A watermark of the Shelf as it is used on photos: each piece in it as a cutout that is kept under its hash, as the piece is now.
 * Throws `not-found` for a piece that is not there any more, and `nothing-left`.
 */
export async function usedWatermark(house: House, watermark: Watermark): Promise<Watermark> {
  const keep = keeper(house);
  return withSources(await namingMaterials(watermark, keep), {
    font: (font) => Promise.resolve(font),
    async cutout(source) {
      if (source.kind !== 'piece') return source;
      const { name, bytes } = await cutoutOf(house, source);
      return { kind: 'kept', name, file: await keep('cutout', name, bytes) };
    },
  });
}

/** A routine as the house keeps it: what its watermark had in it lies beside, under its hash. */
export function keptRoutine(house: House, routine: Routine): Promise<Routine> {
  return withWatermark(routine, (watermark) => usedWatermark(house, watermark));
}

/** A watermark with its cutouts and fonts in the document, so that it can be handed on. Throws what `usedWatermark` throws. */
export async function wholeWatermark(house: House, watermark: Watermark): Promise<Watermark> {
  const used = await usedWatermark(house, watermark);
  const files = await materialFiles(house, used);
  const data = async (file: string) => (await readFile(files[file]!.path)).toString('base64');
  return withSources(used, {
    font: async (font) =>
      font.kind === 'brought'
        ? { kind: 'embedded', name: files[font.file]!.name, data: await data(font.file) }
        : font,
    cutout: async (source) =>
      source.kind === 'kept'
        ? { kind: 'embedded', name: source.name, data: await data(source.file) }
        : source,
  });
}

/**
 * A watermark that was brought, as it is worked on: its cutouts come to the Shelf, its fonts to those that were brought. Throws
 * what taking them in throws.
 */
export function unpacked(house: House, watermark: Watermark): Promise<Watermark> {
  return withSources(watermark, {
    async font(font) {
      if (font.kind !== 'embedded') return font;
      const { sha256, name } = await bringFont(house, font.name, streamOf(Buffer.from(font.data, 'base64')));
      return { kind: 'brought', name, file: sha256 };
    },
    async cutout(source) {
      if (source.kind !== 'embedded') return source;
      const name = /\.\w+$/.test(source.name) ? source.name : `${source.name}.png`;
      const bytes = Buffer.from(source.data, 'base64');
      const { piece } = await importPiece(house, name, streamOf(bytes), { proposes: false });
      return { kind: 'piece', piece: piece.id, colorway: null, light: false };
    },
  });
}

/** Where the fonts and cutouts of a watermark lie. Throws `missing-material`, which says which is gone. */
export async function materialFiles(
  { database, files }: Pick<House, 'database' | 'files'>,
  watermark: Watermark | null,
): Promise<MaterialFiles> {
  const named = watermark ? materialsOf(watermark) : [];
  const places: Record<string, MaterialFiles[string]> = {};
  if (named.length === 0) return places;
  const fonts = new Map((await listFonts(database)).map(({ sha256, name }) => [sha256, name]));
  for (const { kind, name, file } of named) {
    const mark = kind === 'font' ? 'fonts' : 'materials';
    if (!(await files.has(mark, file))) throw missingMaterial(kind, fonts.get(file) ?? name);
    places[file] = { path: files.pathOf(mark, file), name: fonts.get(file) ?? name };
  }
  return places;
}

/** Takes what documents of before have in them out of them, so that it is kept once. Does nothing where nothing is. */
export async function keepEmbedded(house: House): Promise<void> {
  const { Routine, Run, Watch } = house.database.models;
  const embedded = { [Op.like]: '%"kind":"embedded"%' };
  for (const row of await Routine.findAll({ where: { content: embedded } }))
    await change(house, row.content, (content, transaction) => row.update({ content }, { transaction }));
  for (const row of await Run.findAll({ where: { routine: embedded } }))
    await change(house, row.routine, (routine, transaction) => row.update({ routine }, { transaction }));
  for (const row of await Watch.findAll({ where: { routine: embedded } }))
    await change(house, row.routine, (routine, transaction) => row.update({ routine }, { transaction }));
}

async function change(
  house: House,
  text: string,
  write: (text: string, transaction: Transaction) => Promise<unknown>,
): Promise<void> {
  try {
    const kept = await keptRoutine(house, parseRoutineText(text));
    await house.database.write((transaction) => write(JSON.stringify(kept), transaction));
  } catch (error) {
    // It stays as it is, with what it has in it.
    console.error('A routine keeps its fonts and cutouts in it:', (error as Error).message);
  }
}

/** SHA-256 of every cutout that a routine, a run or a watched folder names. */
export async function materialsInUse({ models }: Database): Promise<Set<string>> {
  const kept = { [Op.like]: '%"kind":"kept"%' };
  const texts = [
    ...(await models.Routine.findAll({ where: { content: kept } })).map(({ content }) => content),
    ...(await models.Run.findAll({ where: { routine: kept } })).map(({ routine }) => routine),
    ...(await models.Watch.findAll({ where: { routine: kept } })).map(({ routine }) => routine),
  ];
  return new Set(texts.flatMap((text) => text.match(/(?<="file":")[0-9a-f]{64}/g) ?? []));
}

/** Keeps fonts among those that were brought, and cutouts under their hashes. */
function keeper(house: House): KeepMaterial {
  return async (kind, name, bytes) => {
    if (kind === 'font') return (await bringFont(house, name, streamOf(bytes))).sha256;
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    await house.locks.acquire(`material ${sha256}`, async () => {
      if (await house.files.has('materials', sha256)) return;
      const incoming = await house.files.incomingPath();
      await writeFile(incoming, bytes);
      await syncFile(incoming);
      await house.files.keep(incoming, 'materials', sha256);
    });
    return sha256;
  };
}

async function cutoutOf(house: House, { piece: id, colorway, light }: PieceSource) {
  const { name, trashed } = await getPiece(house.database, id);
  if (trashed)
    throw new KenosisError('not-found', `"${name}" of this watermark is in the trash. Bring it back first.`);
  const { revision } = await currentCut(house.database, id);
  const look = { colorway, light };
  const { bytes } = await placedPictureOf(house, id, { revision, look, mostPx: PLACED_PX });
  return { name, bytes };
}

function streamOf(bytes: Buffer): ReadableStream<Uint8Array> {
  return Readable.toWeb(Readable.from([bytes])) as ReadableStream<Uint8Array>;
}
