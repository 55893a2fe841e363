import { parseArgs } from 'node:util';
import { badArgument, KenosisError } from '../core/errors';
import { ANCHORS, QUALITY } from '../core/stages/deliver/output-settings';
import { FIRST_WATERMARKS } from '../core/watermark/first-watermarks';
import {
  AS_BROUGHT,
  LONG_SIDE_PX,
  LONGEST_TEXT,
  MARK_OPACITY,
  MARK_SIZE,
  MEGAPIXELS,
  TYPEFACES,
  type Marked,
  type MarkPlace,
  type Typeface,
} from '../core/watermark/settings';
import { readJobs } from './run-args';

export const MARK_USAGE = `usage: kenosis mark PHOTO... --watermark NAME|FILE.json -o FOLDER [--format same|jpeg|png|webp|tiff] [--quality N]
         [--long PX] [--megapixels N] [--at PLACE] [--size PERCENT] [--opacity N] [--drop-location] [--author TEXT]
         [--copyright TEXT] [--jobs N] [--resume] [--report FILE.json|FILE.csv]
       kenosis mark PHOTO... --text "TEXT" [--typeface NAME] -o FOLDER ...

  kenosis mark puts a watermark on photos and writes them into FOLDER under other names; the photos stay as they are. A photo that
  has such a mark, or was marked by the same into FOLDER before, is left alone. PHOTO is a picture or a folder of them. NAME is
  one of ${FIRST_WATERMARKS.map(({ name }) => `"${name}"`).join(', ')}, or one of the house whose data folder KENOSIS_DATA names; FILE.json was exported.

  --text TEXT           a mark of one line instead; {year}, {date} and {photo} are filled in
  --typeface NAME       of that line: ${Object.keys(TYPEFACES).join(', ')}
  --format F            what is written (without it: as it came, or JPEG)
  --quality N           of JPEG and WebP, 1 to 100 (without it: ${AS_BROUGHT.quality})
  --long PX             makes the longer side so many pixels first; --megapixels N the whole; never larger
  --at PLACE            ${ANCHORS.join(', ')}
  --size PERCENT        how large, in percent of what the watermark is measured by
  --opacity N           percent
  --drop-location       leaves out where it was taken
  --author, --copyright are written into the file
  --jobs, --resume, --report as in kenosis run`;

export interface MarkArguments {
  readonly inputs: readonly string[];
  readonly source:
    { readonly watermark: string } | { readonly text: string; readonly typeface: Typeface | null };
  readonly output: string;
  readonly marked: Marked;
  /** Null: as the watermark says. */
  readonly anchor: MarkPlace['anchor'] | null;
  readonly percent: number | null;
  readonly opacity: number | null;
  readonly jobs: number | null;
  readonly resume: boolean;
  readonly reportFile: string | null;
}

/** Reads the arguments behind `kenosis mark`. Throws `bad-argument`. */
export function readMarkArguments(args: readonly string[]): MarkArguments {
  const { values, positionals: inputs } = parsed([...args]);
  if (inputs.length === 0) throw badArgument('PHOTO', 'photos or folders of them', 'none');
  if (!values.output) throw badArgument('-o', 'the folder to write into', 'nothing');
  if (values.long !== undefined && values.megapixels !== undefined)
    throw badArgument('--megapixels', 'it or --long', 'both');
  const long = read('--long', values.long, LONG_SIDE_PX);
  const megapixels = read('--megapixels', values.megapixels, MEGAPIXELS);
  return {
    inputs,
    source: sourceOf(values),
    output: values.output,
    marked: {
      ...AS_BROUGHT,
      format:
        oneOf('--format', values.format, ['same', 'jpeg', 'png', 'webp', 'tiff'] as const) ??
        AS_BROUGHT.format,
      quality: Math.round(read('--quality', values.quality, QUALITY) ?? AS_BROUGHT.quality),
      resize:
        long !== null
          ? { kind: 'long', px: Math.round(long) }
          : megapixels !== null
            ? { kind: 'megapixels', megapixels }
            : AS_BROUGHT.resize,
      location: values['drop-location'] ? 'dropped' : 'kept',
      author: values.author ?? '',
      copyright: values.copyright ?? '',
    },
    anchor: oneOf('--at', values.at, ANCHORS),
    percent: read('--size', values.size, MARK_SIZE),
    opacity: read('--opacity', values.opacity, MARK_OPACITY),
    jobs: readJobs(values.jobs),
    resume: values.resume ?? false,
    reportFile: values.report ?? null,
  };
}

function sourceOf({
  watermark,
  text,
  typeface,
}: ReturnType<typeof parsed>['values']): MarkArguments['source'] {
  if (watermark !== undefined && text !== undefined) throw badArgument('--text', 'it or --watermark', 'both');
  if (watermark !== undefined) {
    if (typeface !== undefined) throw badArgument('--typeface', 'it together with --text', typeface);
    return { watermark };
  }
  if (text === undefined)
    throw badArgument('--watermark', 'the name or the file of one, or --text', 'nothing');
  const length = [...text].length;
  if (text.trim() === '' || text.length > LONGEST_TEXT)
    throw badArgument('--text', `1 to ${LONGEST_TEXT} letters`, `${length} letters`);
  return { text, typeface: oneOf('--typeface', typeface, Object.keys(TYPEFACES) as Typeface[]) };
}

function oneOf<T extends string>(option: string, text: string | undefined, names: readonly T[]): T | null {
  if (text === undefined) return null;
  const found = names.find((name) => name === text);
  if (!found) throw badArgument(option, `one of ${names.join(', ')}`, text);
  return found;
}

function read(
  option: string,
  text: string | undefined,
  { min, max }: { readonly min: number; readonly max: number },
): number | null {
  if (text === undefined) return null;
  const value = Number(text);
  if (text.trim() === '' || !(value >= min && value <= max))
    throw badArgument(option, `${min} to ${max}`, text);
  return value;
}

function parsed(args: string[]) {
  const text = { type: 'string' } as const;
  const flag = { type: 'boolean' } as const;
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: {
        watermark: text,
        text,
        typeface: text,
        output: { type: 'string', short: 'o' },
        format: text,
        quality: text,
        long: text,
        megapixels: text,
        at: text,
        size: text,
        opacity: text,
        'drop-location': flag,
        author: text,
        copyright: text,
        jobs: text,
        resume: flag,
        report: text,
      },
    });
  } catch (cause) {
    throw new KenosisError('bad-argument', (cause as Error).message, { cause });
  }
}
