import { create, type Font } from 'fontkit';
import { isKenosisError, KenosisError } from '../../core/errors';

/** A font file has at most so many bytes, and so many when it is unpacked. */
export const MOST_FONT_BYTES = 10_000_000;
const MOST_UNPACKED_BYTES = 60_000_000;

const KINDS: Readonly<Record<string, string>> = {
  '00010000': 'TrueType',
  '74727565': 'TrueType',
  '4f54544f': 'OpenType',
  '774f4632': 'WOFF2',
};

const UNITS = { min: 16, max: 16_384 } as const;

/** What is known of a font. */
export interface FontFacts {
  /** What it calls itself; empty where it does not. */
  readonly family: string;
  readonly kind: string;
  /** The weights that it can be set in; null where it has one alone. */
  readonly weights: { readonly min: number; readonly max: number } | null;
}

/**
 * Reads a font: TrueType, OpenType or WOFF2. `name` is what the person calls its file. Throws `bad-font` for what is none, is
 * damaged, is too large, or says of itself what cannot be.
 */
export function readFont(bytes: Buffer, name: string): Font {
  if (bytes.length > MOST_FONT_BYTES) throw badFont(name, `is larger than ${MOST_FONT_BYTES / 1e6} MB`);
  const kind = kindOf(bytes);
  if (kind === null) throw badFont(name, 'is no font that can be read: bring a TTF, OTF or WOFF2 file');
  if (kind === 'WOFF2' && (bytes.length < 48 || bytes.readUInt32BE(16) > MOST_UNPACKED_BYTES))
    throw badFont(name, 'is too large when it is unpacked');
  try {
    const font = create(bytes) as Font;
    // A font that lies breaks here, not where somebody's photo is marked.
    const { unitsPerEm, ascent, descent } = font;
    const isSane =
      unitsPerEm >= UNITS.min &&
      unitsPerEm <= UNITS.max &&
      font.numGlyphs > 0 &&
      Math.abs(ascent) < 20 * unitsPerEm &&
      Math.abs(descent) < 20 * unitsPerEm;
    if (!isSane) throw badFont(name, 'says of itself what cannot be');
    void font.glyphForCodePoint(0x61).path.commands.length;
    void font.layout('Aa').glyphs.length;
    return font;
  } catch (error) {
    if (isKenosisError(error)) throw error;
    throw badFont(name, 'is damaged', error);
  }
}

/** What is known of a font that was brought. Throws `bad-font`. */
export function fontFacts(bytes: Buffer, name: string): FontFacts {
  const font = readFont(bytes, name);
  const axis = weightAxis(font, kindOf(bytes));
  return {
    family: (font.familyName ?? '').replace(/[^\p{L}\p{N}\p{P} ]/gu, '').slice(0, 80),
    kind: kindOf(bytes)!,
    weights: axis ? { min: axis.min, max: axis.max } : null,
  };
}

/** The weights of a variable font; null where it has one alone. Those that are packed as WOFF2 are set as they begin. */
export function weightAxis(
  font: Font,
  kind: string | null,
): { readonly min: number; readonly max: number } | null {
  const axes = font.variationAxes as Readonly<Record<string, { min: number; max: number } | undefined>>;
  return (kind === 'WOFF2' ? undefined : axes.wght) ?? null;
}

export function kindOf(bytes: Buffer): string | null {
  return KINDS[bytes.toString('hex', 0, 4)] ?? null;
}

export function badFont(name: string, what: string, cause?: unknown): KenosisError {
  return new KenosisError('bad-font', `"${name}" ${what}. Nothing was made of it.`, { cause });
}
