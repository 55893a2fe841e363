import { badArgument } from '../errors';
import type { TextPart, Watermark } from './settings';
import type { ShapeWish } from './shaped';

/** What may stand in a text and is filled in for each photo. */
export const FIELDS = {
  year: 'the year it was taken, or this one',
  date: 'the day it was taken, or today',
  photo: "the photo's name",
} as const;

/** What is known of a photo. */
export interface PhotoFacts {
  /** Its file name. */
  readonly name: string;
  /** `2026-11-30`; null where it says nothing. */
  readonly taken: string | null;
  /** Today, in the same form. */
  readonly today: string;
}

/** The lines of a text on a photo. Throws `bad-argument` where a field is none. */
export function linesOn(
  { text, case: letters }: Pick<TextPart, 'text' | 'case'>,
  facts: PhotoFacts,
): string[] {
  const date = facts.taken ?? facts.today;
  const values: Readonly<Record<string, string>> = {
    year: date.slice(0, 4),
    date,
    photo: facts.name.replace(/\.[A-Za-z0-9]{1,5}$/, ''),
  };
  const filled = text.replace(/\{([^{}\n]*)\}/g, (whole, field: string) => {
    const value = values[field];
    if (value === undefined)
      throw badArgument(
        'text',
        `one of ${Object.keys(FIELDS)
          .map((one) => `{${one}}`)
          .join(', ')}`,
        whole,
      );
    return value;
  });
  const cased =
    letters === 'upper' ? filled.toUpperCase() : letters === 'lower' ? filled.toLowerCase() : filled;
  return cased.replace(/\r/g, '').split('\n');
}

/** What the lines of a text on a photo are set by. Throws `bad-argument`. */
export function wishesOf(part: TextPart, facts: PhotoFacts): ShapeWish[] {
  const { font, weight, tracking } = part;
  return linesOn(part, facts).map((text) => ({ text, font, weight, ligatures: tracking === 0 }));
}

/** The texts of a watermark in order. */
export function textsOf({ layout }: Watermark): TextPart[] {
  return layout.groups.flatMap(({ parts }) => parts.filter((part) => part.kind === 'text'));
}
