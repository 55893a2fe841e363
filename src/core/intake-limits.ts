/** What a picture may be at most. Checked before it is decoded. */
export const MAX_BYTES = 200_000_000;
export const MAX_PIXELS = 100_000_000;

/** The text of a drawing, unpacked. */
export const MAX_DRAWING_BYTES = 20_000_000;
