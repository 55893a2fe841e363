import { readFile } from 'node:fs/promises';
import { badArgument, isKenosisError, KenosisError } from '../core/errors';
import { wordsOf } from '../core/system-words';
import { FIRST_WATERMARKS, lineMark } from '../core/watermark/first-watermarks';
import { markRoutine } from '../core/watermark/mark-routine';
import { parseWatermarkText } from '../core/watermark/parse';
import { textsOf } from '../core/watermark/fields';
import type { MarkPlace, Watermark } from '../core/watermark/settings';
import { savedWatermark, type SavedWatermark } from '../server/watermarks/saved-watermark';
import type { MarkArguments } from './mark-args';
import { runOnPictures } from './run-command';

/** Runs `kenosis mark`: a routine that does nothing but mark. Returns the exit code. */
export async function markCommand(args: MarkArguments): Promise<number> {
  return withWatermark(args, ({ watermark, materials }) =>
    runOnPictures(args, { routine: markRoutine(changed(watermark, args), args.marked), materials }),
  );
}

/** A watermark, and where the fonts and cutouts lie that it names. */
type Laid = Pick<SavedWatermark, 'watermark' | 'materials'>;

async function withWatermark<T>({ source }: MarkArguments, work: (laid: Laid) => Promise<T>): Promise<T> {
  if ('text' in source) {
    const mark = lineMark(source.text);
    const { typeface } = source;
    if (typeface !== null) for (const part of textsOf(mark)) part.font = { kind: 'shipped', which: typeface };
    return work({ watermark: mark, materials: {} });
  }
  const name = source.watermark;
  if (/\.json$/i.test(name)) return work({ watermark: await fromFile(name), materials: {} });
  const saved = await savedWatermark(name, process.env);
  if (saved.found) return saved.found(work);
  const first = FIRST_WATERMARKS.find((one) => one.name === name);
  if (first) return work({ watermark: first, materials: {} });
  const names = [...new Set([...FIRST_WATERMARKS.map((one) => one.name), ...saved.names])];
  throw badArgument(
    '--watermark',
    `one of ${names.map((one) => `"${one}"`).join(', ')}, or a file of one (.json)`,
    `"${name}"`,
  );
}

async function fromFile(file: string): Promise<Watermark> {
  try {
    return parseWatermarkText(await readFile(file, 'utf8'));
  } catch (error) {
    if (isKenosisError(error))
      throw new KenosisError(error.code, `"${file}": ${error.message}`, { cause: error });
    throw new KenosisError('bad-argument', `--watermark: "${file}" cannot be read: ${wordsOf(error)}.`, {
      cause: error,
    });
  }
}

/** The watermark with what was asked for here. */
function changed(watermark: Watermark, { anchor, percent, opacity }: MarkArguments): Watermark {
  const placed = (place: MarkPlace): MarkPlace => ({
    ...place,
    ...(anchor === null ? {} : { anchor }),
    ...(percent === null ? {} : { size: { ...place.size, percent } }),
  });
  return {
    ...watermark,
    look: opacity === null ? watermark.look : { ...watermark.look, opacity },
    place: placed(watermark.place),
    portrait: watermark.portrait && placed(watermark.portrait),
  };
}
