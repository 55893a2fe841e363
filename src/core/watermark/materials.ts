import type { CutoutPart, FontSource, Group, Part, Watermark } from './settings';

/** A font or a cutout that is kept beside a document, under the SHA-256 of its bytes. */
export interface Material {
  readonly kind: 'font' | 'cutout';
  readonly name: string;
  readonly file: string;
}

/** The fonts and cutouts that a watermark names by their hashes, each once. */
export function materialsOf({ layout }: Watermark): Material[] {
  const found = new Map<string, Material>();
  for (const { parts } of layout.groups)
    for (const part of parts) {
      const source = part.kind === 'text' ? part.font : part.source;
      if (source.kind !== 'brought' && source.kind !== 'kept') continue;
      const { name, file } = source;
      found.set(file, { kind: part.kind === 'text' ? 'font' : 'cutout', name, file });
    }
  return [...found.values()];
}

/** How the sources of a watermark's fonts and cutouts are changed. */
export interface SourceChange {
  font(font: FontSource): Promise<FontSource>;
  cutout(source: CutoutPart['source']): Promise<CutoutPart['source']>;
}

/** A watermark with other sources of its fonts and cutouts, changed one after the other. */
export async function withSources(watermark: Watermark, change: SourceChange): Promise<Watermark> {
  const { layout } = watermark;
  const groups: Group[] = [];
  for (const group of layout.groups) {
    const parts: Part[] = [];
    for (const part of group.parts)
      parts.push(
        part.kind === 'text'
          ? { ...part, font: await change.font(part.font) }
          : { ...part, source: await change.cutout(part.source) },
      );
    groups.push({ ...group, parts });
  }
  return { ...watermark, layout: { ...layout, groups } };
}
