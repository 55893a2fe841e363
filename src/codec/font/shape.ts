import type { Font } from 'fontkit';
import { isKenosisError, KenosisError } from '../../core/errors';
import { TYPEFACES } from '../../core/watermark/settings';
import { PATH, type Glyph, type ShapedLine, type ShapeWish } from '../../core/watermark/shaped';
import { badFont, kindOf, readFont, weightAxis } from './read-font';
import { typefaceFiles } from './typefaces';

/** Fonts of one face: the letters that are not in the first are looked for in the next. */
export interface Face {
  /** As errors name it. */
  readonly name: string;
  readonly fonts: readonly Font[];
}

/** Parts of a path that one glyph has at most, and how far it reaches from its place, in sizes. */
const MOST_PATH_PARTS = 20_000;
const FARTHEST = 20;

/** Writing that runs from right to left, which is not set here. */
const RIGHT_TO_LEFT =
  /[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}\u200f\u202b\u202e\u2067]/u;

/** What joins or turns letters, and is not seen itself. */
const UNSEEN = /[\p{Cf}\p{Mn}\ufe00-\ufe0f]/u;

/** The face of a font source, in a weight. `bytesOf` reads one that was brought. Throws `bad-font`, and what `bytesOf` throws. */
export async function faceOf(
  { font, weight }: Pick<ShapeWish, 'font' | 'weight'>,
  bytesOf: (font: {
    readonly name: string;
    readonly file: string;
  }) => Promise<{ readonly name: string; readonly bytes: Buffer }>,
): Promise<Face> {
  if (font.kind === 'shipped') {
    const { name } = TYPEFACES[font.which];
    const files = await typefaceFiles(font.which, weight);
    return { name, fonts: files.map((bytes) => readFont(bytes, name)) };
  }
  const { name, bytes } =
    font.kind === 'embedded'
      ? { name: font.name, bytes: Buffer.from(font.data, 'base64') }
      : await bytesOf(font);
  return { name, fonts: [inWeight(readFont(bytes, name), weight, name, kindOf(bytes))] };
}

/** A variable font in a weight that it has; another one as it is. */
function inWeight(font: Font, weight: number, name: string, kind: string | null): Font {
  const axis = weightAxis(font, kind);
  if (!axis) return font;
  try {
    return font.getVariation({ wght: Math.min(axis.max, Math.max(axis.min, weight)) });
  } catch (error) {
    throw badFont(name, 'has weights that cannot be read', error);
  }
}

/**
 * Sets a line of text: kerned, with ligatures where they are wished, as outlines. Letters come from the first font of the face that
 * has them. Throws `no-letters` for a letter that none has, or for writing that is not set here, and `bad-font`.
 */
export function shapeLine({ name, fonts }: Face, text: string, ligatures: boolean): ShapedLine {
  const line = text.replace(/\t/g, '    ').replace(/[\u00a0\u202f]/g, ' ');
  if (RIGHT_TO_LEFT.test(line))
    throw new KenosisError(
      'no-letters',
      `"${shortened(line)}" runs from right to left, and such writing cannot be set yet. Bring it as a picture instead. Nothing was made of it.`,
    );
  try {
    const glyphs: Glyph[] = [];
    for (const { font, part } of partsOf(line, name, fonts))
      glyphs.push(...shapedBy(font, part, ligatures, name));
    return { glyphs };
  } catch (error) {
    if (isKenosisError(error)) throw error;
    throw badFont(name, `cannot set "${shortened(line)}": it is damaged`, error);
  }
}

/** A line in parts of which each is in one font. */
function partsOf(line: string, name: string, fonts: readonly Font[]): { font: Font; part: string }[] {
  const parts: { font: Font; part: string }[] = [];
  for (const { segment } of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(line)) {
    const points = [...segment].map((letter) => letter.codePointAt(0)!);
    const last = parts.at(-1);
    const has = (font: Font) => points.every((point) => font.hasGlyphForCodePoint(point));
    const font = last && has(last.font) ? last.font : fonts.find(has);
    if (!font) throw noLetter(segment, name);
    if (last?.font === font) last.part += segment;
    else parts.push({ font, part: segment });
  }
  return parts;
}

function noLetter(segment: string, name: string): KenosisError {
  const shown =
    UNSEEN.test(segment) || !/\p{L}|\p{N}|\p{P}|\p{S}/u.test(segment) ? codesOf(segment) : `"${segment}"`;
  return new KenosisError(
    'no-letters',
    `${shown} is not in ${name}. Choose another typeface, or leave it out. Nothing was made of it.`,
  );
}

function codesOf(segment: string): string {
  const codes = [...segment].map(
    (letter) => `U+${letter.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`,
  );
  return `"${segment}" (${codes.join(' ')})`;
}

function shapedBy(font: Font, part: string, ligatures: boolean, name: string): Glyph[] {
  const off = { liga: false, clig: false, dlig: false, calt: false };
  const { glyphs, positions } = font.layout(part, ligatures ? undefined : off);
  const unit = font.unitsPerEm;
  return glyphs.map((glyph, k) => {
    const { xAdvance, xOffset, yOffset } = positions[k]!;
    const path = pathOf(glyph.path.commands, unit);
    const isBlank = glyph.codePoints.every((point) => /\s/u.test(String.fromCodePoint(point)));
    if (
      path.length === 0 &&
      !isBlank &&
      !glyph.codePoints.every((point) => UNSEEN.test(String.fromCodePoint(point)))
    )
      throw new KenosisError(
        'no-letters',
        `"${String.fromCodePoint(...glyph.codePoints)}" has no outline in ${name}. Choose another typeface, or leave it out. Nothing was made of it.`,
      );
    const made = { path, advance: xAdvance / unit, dx: xOffset / unit, dy: yOffset / unit };
    if (![made.advance, made.dx, made.dy, ...path].every((value) => Math.abs(value) < FARTHEST))
      throw badFont(name, 'has letters that reach farther than any letter does');
    return made;
  });
}

const CODES: Readonly<Record<string, number>> = {
  moveTo: PATH.move,
  lineTo: PATH.line,
  quadraticCurveTo: PATH.quadratic,
  bezierCurveTo: PATH.cubic,
  closePath: PATH.close,
};

function pathOf(
  commands: readonly { readonly command: string; readonly args: readonly number[] }[],
  unit: number,
): number[] {
  if (commands.length > MOST_PATH_PARTS) throw new Error('too many parts');
  return commands.flatMap(({ command, args }) => [CODES[command]!, ...args.map((value) => value / unit)]);
}

function shortened(text: string): string {
  return [...text].length > 40 ? `${[...text].slice(0, 40).join('')}...` : text;
}
