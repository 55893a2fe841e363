import { z } from 'zod';

/** Pages or frames that a file is looked at; later ones cannot be chosen. */
export const MOST_PAGES = 1000;

/** Widths in pixels at which a drawing without pixels is read. */
export const PAGE_WIDTH_PX = { min: 1, max: 32_000 } as const;

export const pageSchema = z.strictObject({
  number: z.int().min(1).max(MOST_PAGES),
  widthPx: z.int().min(PAGE_WIDTH_PX.min).max(PAGE_WIDTH_PX.max).nullable(),
});

/**
 * Which picture of a file a piece is: a page or frame, from 1 on, and, where it is drawn without pixels (SVG, PDF), how many
 * pixels wide it is read; null for pictures that have pixels of their own.
 */
export type Page = z.infer<typeof pageSchema>;

/** The picture of a file that holds one. */
export const ONLY_PAGE: Page = { number: 1, widthPx: null };

/** Equal for the same pages; empty for the only picture of a file. `3`, `1@1200`. */
export function pageKey({ number, widthPx }: Page): string {
  if (widthPx !== null) return `${number}@${widthPx}`;
  return number === 1 ? '' : String(number);
}
