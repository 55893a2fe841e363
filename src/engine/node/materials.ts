import { createHash } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { Routine } from '../../core/routine/settings';
import { withSources } from '../../core/watermark/materials';
import type { Watermark } from '../../core/watermark/settings';
import type { MaterialFiles } from './shape-texts';

/** Keeps a font or a cutout beside a document. Returns the SHA-256 of its bytes, by which the document names it. */
export type KeepMaterial = (kind: 'font' | 'cutout', name: string, bytes: Buffer) => Promise<string>;

/** A watermark that names the fonts and cutouts it had in it; all others stay. */
export function namingMaterials(watermark: Watermark, keep: KeepMaterial): Promise<Watermark> {
  const kept = (kind: 'font' | 'cutout', { name, data }: { readonly name: string; readonly data: string }) =>
    keep(kind, name, Buffer.from(data, 'base64'));
  return withSources(watermark, {
    font: async (font) =>
      font.kind === 'embedded' ? { kind: 'brought', name: font.name, file: await kept('font', font) } : font,
    cutout: async (source) =>
      source.kind === 'embedded'
        ? { kind: 'kept', name: source.name, file: await kept('cutout', source) }
        : source,
  });
}

/** A routine whose watermark, where it has one, is another. */
export async function withWatermark(
  routine: Routine,
  change: (watermark: Watermark) => Promise<Watermark>,
): Promise<Routine> {
  const { mark } = routine;
  return mark ? { ...routine, mark: { ...mark, watermark: await change(mark.watermark) } } : routine;
}

/** Lays the fonts and cutouts that a watermark has in it into a folder, once each. Adds them to `files`. */
export function layBeside(folder: string, files: Record<string, MaterialFiles[string]>): KeepMaterial {
  return async (_kind, name, bytes) => {
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const place = path.join(folder, sha256);
    if (!files[sha256]) await writeFile(place, bytes, { mode: 0o600 });
    files[sha256] = { path: place, name };
    return sha256;
  };
}
