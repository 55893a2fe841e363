import type { Upgrade } from '../document';
import { WATERMARK_STEPS } from '../watermark/upgrade';

/** From version 1 to 2: a watermark in it is of version 2. */
const withWatermark2: Upgrade = (document) => {
  const { mark } = document as { readonly mark?: { readonly watermark?: object } | null };
  if (!mark?.watermark) return { ...document, version: 2 };
  return { ...document, version: 2, mark: { ...mark, watermark: WATERMARK_STEPS[0]!(mark.watermark) } };
};

export const ROUTINE_STEPS: readonly Upgrade[] = [withWatermark2];
