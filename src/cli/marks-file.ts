import { z } from 'zod';
import { MOST_MARKS, type Mark } from '../core/stages/clear/settings';
import { strokeSchema } from '../core/stages/shapes';
import { KenosisError } from '../core/errors';
import { loadText } from './input';

const marksSchema = z.strictObject({
  stays: z.array(strokeSchema).default([]),
  goes: z.array(strokeSchema).default([]),
});

/** The strokes of a file for `--marks`, in pixels of the picture. Throws `not-found` and `bad-argument`. */
export async function loadMarks(file: string): Promise<Mark[]> {
  const found = marksSchema.safeParse(jsonOf(await loadText(file), file));
  if (!found.success) {
    const { path, message } = found.error.issues[0]!;
    throw badMarks(file, `${path.length > 0 ? `${path.join('.')}: ` : ''}${message}`);
  }
  const { stays, goes } = found.data;
  const marks = [
    ...stays.map((stroke): Mark => ({ ...stroke, goes: false })),
    ...goes.map((stroke): Mark => ({ ...stroke, goes: true })),
  ];
  if (marks.length > MOST_MARKS)
    throw badMarks(file, `expected at most ${MOST_MARKS} strokes, got ${marks.length}`);
  return marks;
}

function jsonOf(text: string, file: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw badMarks(file, 'this is no JSON', cause);
  }
}

function badMarks(file: string, what: string, cause?: unknown): KenosisError {
  return new KenosisError(
    'bad-argument',
    `--marks "${file}": ${what}. Expected {"stays": [{"radiusPx": 8, "points": [[x, y], ...]}], "goes": [...]} in pixels of IN.`,
    { cause },
  );
}
