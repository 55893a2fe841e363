import { readFile } from 'node:fs/promises';
import type { ReadableStream } from 'node:stream/web';
import { KenosisError } from '../../core/errors';
import { PLACED_PX } from '../../core/proof/looks';
import type { CutoutPart, FontSource, Group, Part, Watermark } from '../../core/watermark/settings';
import { currentCut, getPiece } from '../../storage/pieces';
import { listFonts } from '../../storage/watermarks';
import { placedPictureOf } from '../proofs/placed-picture';
import { importPiece } from '../import-piece';
import type { House } from '../rooms';
import { bringFont } from './fonts';

/**
 * A watermark with its cutouts and fonts in the document, so that it means the same everywhere. Throws `not-found` for a piece or a
 * font that is not there any more, and `nothing-left`.
 */
export async function wholeWatermark(house: House, watermark: Watermark): Promise<Watermark> {
  return withParts(watermark, async (part) =>
    part.kind === 'text' ? { ...part, font: await wholeFont(house, part.font) } : wholeCutout(house, part),
  );
}

/**
 * A watermark that was brought as the house keeps it: its cutouts come to the Shelf, its fonts to those that were brought. Throws
 * what taking them in throws.
 */
export function unpacked(house: House, watermark: Watermark): Promise<Watermark> {
  const streamOf = (data: string) =>
    new Blob([Buffer.from(data, 'base64')]).stream() as unknown as ReadableStream<Uint8Array>;
  return withParts(watermark, async (part) => {
    if (part.kind === 'text') {
      const { font } = part;
      if (font.kind !== 'embedded') return part;
      const { sha256 } = await bringFont(house, font.name, streamOf(font.data));
      return { ...part, font: { kind: 'brought', file: sha256 } };
    }
    const { source } = part;
    if (source.kind !== 'embedded') return part;
    const name = /\.\w+$/.test(source.name) ? source.name : `${source.name}.png`;
    const { piece } = await importPiece(house, name, streamOf(source.data), { proposes: false });
    return { ...part, source: { kind: 'piece', piece: piece.id, colorway: null, light: false } };
  });
}

/** A watermark with other parts, made one after the other. */
async function withParts(watermark: Watermark, change: (part: Part) => Promise<Part>): Promise<Watermark> {
  const { layout } = watermark;
  const groups: Group[] = [];
  for (const group of layout.groups) {
    const parts: Part[] = [];
    for (const part of group.parts) parts.push(await change(part));
    groups.push({ ...group, parts });
  }
  return { ...watermark, layout: { ...layout, groups } };
}

async function wholeCutout(house: House, part: CutoutPart): Promise<CutoutPart> {
  const { source } = part;
  if (source.kind !== 'piece') return part;
  const { name } = await getPiece(house.database, source.piece);
  const { revision } = await currentCut(house.database, source.piece);
  const { colorway, light } = source;
  const { bytes } = await placedPictureOf(house, source.piece, {
    revision,
    look: { colorway, light },
    mostPx: PLACED_PX,
  });
  return { ...part, source: { kind: 'embedded', name, data: bytes.toString('base64') } };
}

async function wholeFont({ database, files }: House, font: FontSource): Promise<FontSource> {
  if (font.kind !== 'brought') return font;
  const known = (await listFonts(database)).find(({ sha256 }) => sha256 === font.file);
  if (!known)
    throw new KenosisError(
      'not-found',
      'A font of this watermark is not in the house any more. Bring its file again, or choose another typeface.',
    );
  const bytes = await readFile(files.pathOf('fonts', font.file));
  return { kind: 'embedded', name: known.name, data: bytes.toString('base64') };
}
