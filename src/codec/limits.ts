/** What a picture may be at most. Checked before it is decoded. */
export const MAX_BYTES = 200_000_000;
export const MAX_PIXELS = 100_000_000;

/** The formats that can be brought in, by the names the decoder gives them. */
export const INPUT_FORMATS = ['png', 'jpeg', 'webp', 'tiff'] as const;
export type InputFormat = (typeof INPUT_FORMATS)[number];
