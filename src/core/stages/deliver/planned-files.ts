import { colorwayEnding } from '../../cut/colorway-name';
import { OUTPUT_FORMATS } from '../../formats';
import { checkFileName, withoutReserved, plainText } from './file-name';
import type { Output } from './output-settings';
import { LONGEST_FILE_NAME, type Deliver } from './settings';

/** One file of a delivery, before it is made. */
export interface PlannedFile {
  /** The colorway it is in; null for the cut as it is. */
  readonly colorway: string | null;
  readonly output: Output;
  /** Which of the cut's outputs that is. */
  readonly outputAt: number;
  /** Its name; `{width}` and `{height}` may stand in it, which are known when it is made. */
  readonly name: string;
}

/** What may stand in a file name and is filled in. */
export const NAME_PARTS = ['piece', 'colorway', 'width', 'height', 'date', 'number', 'format'] as const;

const ENDINGS = Object.values(OUTPUT_FORMATS).flatMap(({ ending }) =>
  ending === '.jpg' ? ['.jpg', '.jpeg'] : ending === '.tif' ? ['.tif', '.tiff'] : [ending],
);

/** A name without the ending of a format that is delivered. */
export function withoutEnding(name: string): string {
  const lower = name.toLowerCase();
  const ending = ENDINGS.find((one) => lower.endsWith(one));
  return ending ? name.slice(0, -ending.length) : name;
}

/** What of a cut says which files it gives. */
export interface FilesOfCut {
  readonly deliver: Pick<Deliver, 'fileName' | 'outputs'>;
  readonly ink: { readonly colorways: readonly { readonly name: string }[] };
}

/**
 * All files that a cut gives: each output as the cut is and in each of its colorways, under names of which no two are the same.
 * Whoever shows, writes or asks for some of them picks from these, so that a file has one name everywhere. `date` is today's, as
 * `2026-11-30`, where the person is.
 */
export function plannedFiles(
  { deliver, ink }: FilesOfCut,
  originalName: string,
  date: string,
): PlannedFile[] {
  const { fileName, outputs } = deliver;
  const taken = new Set<string>();
  const colorways = [null, ...ink.colorways.map(({ name }) => name)];
  const files = colorways.flatMap((colorway) =>
    outputs.map((output, outputAt) => ({ colorway, output, outputAt })),
  );
  return files.map(({ colorway, output, outputAt }, k) => {
    const { ending } = OUTPUT_FORMATS[output.format];
    const hasTwins = outputs.filter(({ format }) => format === output.format).length > 1;
    const filled = filledIn(fileName, { colorway, output, originalName, date, number: k + 1, hasTwins });
    const stem = safeStem(filled, ending);
    let name = `${stem}${ending}`;
    for (let n = 2; taken.has(twinKey(name, output)); n++) name = `${stem}-${n}${ending}`;
    taken.add(twinKey(name, output));
    return { colorway, output, outputAt, name };
  });
}

/** Names on file systems that do not tell capitals apart; those with a width in them differ by their size. */
function twinKey(name: string, output: Output): string {
  const bySize = /\{(width|height)\}/.test(name) ? JSON.stringify(output.size) : '';
  return `${name.toLowerCase()} ${bySize}`;
}

/** A planned name with the size that the file turned out to have. Throws `bad-argument` where it is no file name. */
export function finishedName({ name, output }: PlannedFile, width: number, height: number): string {
  const finished = name.replaceAll('{width}', String(width)).replaceAll('{height}', String(height));
  return checkFileName(finished, OUTPUT_FORMATS[output.format].ending);
}

interface Facts {
  readonly colorway: string | null;
  readonly output: Output;
  readonly originalName: string;
  readonly date: string;
  readonly number: number;
  readonly hasTwins: boolean;
}

function filledIn(
  fileName: string | null,
  { colorway, output, originalName, date, number, hasTwins }: Facts,
): string {
  const piece = originalName.replace(/\.[A-Za-z0-9]{1,5}$/, '');
  const chosen =
    fileName === null ? (colorway === null ? `${piece}-cutout` : piece) : withoutEnding(fileName);
  const values: Readonly<Record<string, string>> = {
    piece,
    colorway: colorway ?? '',
    date,
    number: String(number),
    format: output.format,
  };
  const template = [
    chosen,
    colorway !== null && !chosen.includes('{colorway}') ? colorwayEnding(colorway) : '',
    hasTwins && !/\{(width|height|number)\}/.test(chosen) ? sizeEnding(output) : '',
  ].join('');
  return template.replace(/\{(\w+)\}/g, (whole, part: string) => values[part] ?? whole);
}

/** What tells two files of one format apart: `-800w`. */
function sizeEnding(output: Output): string {
  if (output.format === 'ico') return '';
  const { to } = output.size;
  switch (to.kind) {
    case 'own':
      return '';
    case 'scale':
      return `-${to.factor}x`;
    case 'width':
      return `-${to.px}w`;
    case 'height':
      return `-${to.px}h`;
    case 'canvas':
      return `-${to.widthPx}x${to.heightPx}`;
    case 'print':
      return `-${to.widthMm}mm`;
  }
}

/** What of a name can stand before an ending: no forbidden letter, no dot or space at its ends, never nothing. */
function safeStem(name: string, ending: string): string {
  const plain = plainText(name)
    .replace(/[/\\:*?"<>|]/g, '')
    .replace(/^[.\s]+/, '');
  const short = plain.slice(0, LONGEST_FILE_NAME - ending.length - 4).replace(/[.\s-]+$/, '');
  return withoutReserved(short || 'piece');
}
