import type { Upgrade } from '../document';

interface Version1 {
  readonly layout?: { readonly groups?: unknown };
}

/** From version 1 to 2: a font that was brought has its name beside its hash. It was not known before. */
const withFontNames: Upgrade = (document) => {
  const { layout } = document as Version1;
  if (!Array.isArray(layout?.groups)) return { ...document, version: 2 };
  const groups: unknown[] = layout.groups.map((group: { readonly parts?: unknown } | null) =>
    Array.isArray(group?.parts) ? { ...group, parts: group.parts.map(withFontName) } : group,
  );
  return { ...document, version: 2, layout: { ...layout, groups } };
};

function withFontName(part: unknown): unknown {
  const { font } = (part ?? {}) as { readonly font?: { readonly kind?: unknown } | null };
  return font?.kind === 'brought' ? { ...(part as object), font: { name: '', ...font } } : part;
}

export const WATERMARK_STEPS: readonly Upgrade[] = [withFontNames];
