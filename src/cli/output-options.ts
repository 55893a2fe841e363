import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { badArgument, KenosisError } from '../core/errors';
import { OUTPUT_FORMATS, type OutputFormat } from '../core/formats';
import {
  AS_IT_IS,
  ANCHORS,
  NO_PADDING,
  OUTPUT_DPI,
  OUTPUT_MM,
  PADDING,
  QUALITY,
  SCALE,
  SIZE_PX,
  THRESHOLD,
  type Anchor,
  type Output,
  type Padding,
  type Target,
} from '../core/stages/deliver/output-settings';
import { outputIn } from '../core/stages/deliver/new-output';
import { FIRST_SETS, type OutputSet } from '../core/stages/deliver/sets';
import { parseSetText } from '../core/stages/deliver/set-document';
import type { Credit } from '../core/stages/deliver/settings';
import { wordsOf } from '../core/system-words';

/** How files are to be made, as it was said. What was not said is null, or false. */
export interface OutputWishes {
  /** The name of a set, a file of one, or `cut` for the files of the given cut. */
  readonly set: string | null;
  /** What names are made of. */
  readonly name: string | null;
  readonly size: Target | null;
  readonly trim: boolean;
  readonly padding: Padding | null;
  readonly quality: number | null;
  readonly matte: string | null;
  readonly threshold: number | null;
  readonly bleed: boolean;
  readonly credit: Credit;
}

/** What the argument parser is told of these options. */
export const OUTPUT_OPTIONS = {
  set: { type: 'string' },
  name: { type: 'string' },
  size: { type: 'string' },
  anchor: { type: 'string' },
  trim: { type: 'boolean' },
  padding: { type: 'string' },
  quality: { type: 'string' },
  matte: { type: 'string' },
  threshold: { type: 'string' },
  bleed: { type: 'boolean' },
  author: { type: 'string' },
  copyright: { type: 'string' },
  description: { type: 'string' },
} as const;

type Values = Readonly<Partial<Record<keyof typeof OUTPUT_OPTIONS, string | boolean>>>;

export const OUTPUT_USAGE = `[--size SIZE] [--anchor PLACE] [--trim] [--padding ROOM] [--quality N] [--matte #RRGGBB]
         [--threshold N] [--bleed] [--set NAME|FILE|cut] [--name PATTERN]
         [--author TEXT] [--copyright TEXT] [--description TEXT]`;

export const OUTPUT_HELP = `  --size SIZE           how large the file is: 800w, 600h, 2x, 2000x2000 (fitted into that canvas), 85mm@300 (on paper, at a
                        resolution that is written into it); without it as large as the cutout
  --anchor PLACE        where on a canvas it lies: center (default), top, bottom-left and so on
  --trim                what is transparent around the content is cut off
  --padding ROOM        room around it: 10 (pixels of the file), 3mm or 5% (of the longer side), or T,R,B,L with one unit
  --quality N           WebP, AVIF and JPEG: 1 to 100; WebP and AVIF without it are lossless, JPEG has 90
  --matte #RRGGBB       JPEG and GIF: what they are laid on (default #ffffff)
  --threshold N         GIF: the alpha, 1 to 255, from which a pixel is there (default 128)
  --bleed               color under full transparency goes on from the edge, instead of being removed
  --set NAME            writes several files into the folder that -o names: site, print, shop, a FILE.json with a set, or cut for
                        those of the given cut
  --name PATTERN        what files of a set are called: {piece}, {colorway}, {width}, {height}, {date}, {number}, {format}
  --author, --copyright, --description TEXT  are written into the file where its format can hold them`;

export function readOutputWishes(values: Values): OutputWishes {
  const anchor = readAnchor(text(values.anchor));
  const size = readSize(text(values.size), anchor);
  const set = text(values.set);
  const wishes = {
    set,
    name: text(values.name),
    size,
    trim: values.trim === true,
    padding: readPadding(text(values.padding)),
    quality: readNumber('--quality', text(values.quality), QUALITY),
    matte: readColor(text(values.matte)),
    threshold: readNumber('--threshold', text(values.threshold), THRESHOLD),
    bleed: values.bleed === true,
    credit: {
      author: text(values.author) ?? '',
      copyright: text(values.copyright) ?? '',
      description: text(values.description) ?? '',
    },
  };
  if (wishes.name !== null && set === null) throw badArgument('--name', '--set beside it', 'nothing');
  const single = ['size', 'padding', 'quality', 'matte', 'threshold'] as const;
  const said = single.find((one) => wishes[one] !== null) ?? (wishes.trim ? 'trim' : null);
  if (set !== null && said) throw badArgument(`--${said}`, 'no --set beside it, which says that', set);
  return wishes;
}

function text(value: string | boolean | undefined): string | null {
  return typeof value === 'string' ? value : null;
}

/** The format that a file's name ends with; null where it is none that is written. */
export function formatOfName(file: string): OutputFormat | null {
  const ending = path.extname(file).toLowerCase();
  if (ending === '.tiff') return 'tiff';
  if (ending === '.jpeg') return 'jpeg';
  const found = Object.entries(OUTPUT_FORMATS).find(([, facts]) => facts.ending === ending);
  return (found?.[0] as OutputFormat | undefined) ?? null;
}

/** What a single file of that format is made of. Throws `bad-argument` for what was said and is not of that format. */
export function outputOf(format: OutputFormat, wishes: OutputWishes): Output {
  const { name } = OUTPUT_FORMATS[format];
  const refuse = (option: string, formats: readonly OutputFormat[], isSaid: boolean) => {
    if (!isSaid || formats.includes(format)) return;
    throw badArgument(option, formats.map((one) => OUTPUT_FORMATS[one].name).join(', '), name);
  };
  refuse('--quality', ['webp', 'avif', 'jpeg'], wishes.quality !== null);
  refuse('--matte', ['gif', 'jpeg'], wishes.matte !== null);
  refuse('--threshold', ['gif'], wishes.threshold !== null);
  refuse('--bleed', ['png', 'webp', 'avif', 'tiff', 'ico'], wishes.bleed);
  const credited = Object.values(wishes.credit).some((text) => text !== '');
  refuse(
    '--author, --copyright, --description',
    ['png', 'webp', 'avif', 'tiff', 'jpeg', 'svg', 'pdf'],
    credited,
  );
  if (format === 'ico' && wishes.size) throw badArgument('--size', 'another format than ICO', 'ICO');
  const trim = wishes.trim;
  const padding = wishes.padding ?? NO_PADDING;
  const output = outputIn(format, { ...AS_IT_IS, trim, padding, to: wishes.size ?? AS_IT_IS.to });
  const { quality, matte, threshold } = wishes;
  return {
    ...output,
    // Without a quality nothing is lost where the format can do that.
    ...(quality !== null || format === 'webp' || format === 'avif' ? { quality } : {}),
    ...(matte === null ? {} : format === 'gif' ? { matte } : { backing: matte }),
    ...(threshold === null ? {} : { threshold }),
  } as Output;
}

/** The set that `--set` names: one of the first ones, or one in a file. Throws `bad-argument`. */
export async function loadSet(name: string): Promise<OutputSet> {
  const first = FIRST_SETS.find((set) => set.name === name);
  if (first) return first;
  const expected = `cut, ${FIRST_SETS.map((set) => set.name).join(', ')} or a file with a set`;
  const text = await readFile(name, 'utf8').catch((cause: unknown) => {
    const why = `--set: expected ${expected}, got ${name}: ${wordsOf(cause)}`;
    throw new KenosisError('bad-argument', why, { cause });
  });
  try {
    return parseSetText(text);
  } catch (cause) {
    throw new KenosisError('bad-argument', `--set: ${name}: ${(cause as Error).message}`, { cause });
  }
}

function readSize(said: string | null, anchor: Anchor | null): Target | null {
  const target = said === null ? null : sizeOf(said);
  if (anchor !== null && target?.kind !== 'canvas')
    throw badArgument('--anchor', 'a canvas beside it, like --size 2000x2000', said ?? 'nothing');
  return target?.kind === 'canvas' ? { ...target, anchor: anchor ?? 'center' } : target;
}

function sizeOf(said: string): Target {
  const number = (digits: string, range: { readonly min: number; readonly max: number }) => {
    const value = Number(digits);
    if (value >= range.min && value <= range.max) return value;
    throw badArgument('--size', `${range.min} to ${range.max}`, digits);
  };
  const [, wide, high] = /^(\d+)x(\d+)$/.exec(said) ?? [];
  if (wide !== undefined && high !== undefined)
    return {
      kind: 'canvas',
      widthPx: number(wide, SIZE_PX),
      heightPx: number(high, SIZE_PX),
      anchor: 'center',
    };
  const [, mm, dpi] = /^(\d+(?:\.\d+)?)mm@(\d+)$/.exec(said) ?? [];
  if (mm !== undefined && dpi !== undefined)
    return { kind: 'print', widthMm: number(mm, OUTPUT_MM), dpi: number(dpi, OUTPUT_DPI) };
  const [, value, unit] = /^(\d+(?:\.\d+)?)(w|h|x)$/.exec(said) ?? [];
  if (value !== undefined && unit === 'x') return { kind: 'scale', factor: number(value, SCALE) };
  if (value !== undefined && !value.includes('.'))
    return { kind: unit === 'w' ? 'width' : 'height', px: number(value, SIZE_PX) };
  throw badArgument('--size', '800w, 600h, 2x, 2000x2000 or 85mm@300', said);
}

function readAnchor(said: string | null): Anchor | null {
  if (said === null) return null;
  const anchor = ANCHORS.find((one) => one === said);
  if (!anchor) throw badArgument('--anchor', `one of ${ANCHORS.join(', ')}`, said);
  return anchor;
}

function readPadding(said: string | null): Padding | null {
  if (said === null) return null;
  const [, digits = '', unit = 'px'] = /^([\d.,]+)(px|mm|%)?$/.exec(said) ?? [];
  const sides = digits.split(',').map(Number);
  const [top, right = top, bottom = top, left = right] = sides;
  const isRight =
    digits !== '' &&
    (sides.length === 1 || sides.length === 4) &&
    sides.every((side) => side >= PADDING.min && side <= PADDING.max);
  if (!isRight) throw badArgument('--padding', '10, 3mm, 5% or T,R,B,L with one unit', said);
  return { top: top!, right: right!, bottom: bottom!, left: left!, unit: unit as Padding['unit'] };
}

function readNumber(
  option: string,
  said: string | null,
  { min, max }: { readonly min: number; readonly max: number },
): number | null {
  if (said === null) return null;
  const value = Number(said);
  if (!/^\d+$/.test(said) || value < min || value > max) throw badArgument(option, `${min} to ${max}`, said);
  return value;
}

function readColor(said: string | null): string | null {
  if (said === null) return null;
  const color = said.toLowerCase();
  if (!/^#[0-9a-f]{6}$/.test(color)) throw badArgument('--matte', 'a color like #1d2a6b', said);
  return color;
}
