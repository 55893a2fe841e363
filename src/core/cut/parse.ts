import { KenosisError } from '../errors';
import { CUT_VERSION, cutSchema, type Cut } from './schema';

/** The cut of a piece that nobody has touched. */
export function untouchedCut(): Cut {
  return {
    format: 'kenosis-cut',
    version: CUT_VERSION,
    clear: { on: true, samples: [], pockets: [] },
    edge: { on: true },
    deliver: { fileName: null },
  };
}

/**
 * Checks a cut that came from outside. Unknown fields, missing fields and values out of range throw `bad-cut` with
 * the field's path; another version throws `unknown-cut-version`. Nothing is dropped or repaired silently.
 */
export function parseCut(value: unknown): Cut {
  refuseOtherVersions(value);
  const result = cutSchema.safeParse(value);
  if (!result.success) {
    const issue = result.error.issues[0]!;
    const extra =
      issue.code === 'unrecognized_keys' ? `unknown field ${issue.keys.join(', ')}` : issue.message;
    throw new KenosisError('bad-cut', `cut${pathOf(issue.path)}: ${extra}`);
  }
  const ids = new Set<string>();
  for (const sample of result.data.clear.samples) {
    if (ids.has(sample.id))
      throw new KenosisError('bad-cut', `cut.clear.samples: the id ${sample.id} occurs twice`);
    ids.add(sample.id);
  }
  return result.data;
}

/** Reads the text of a cut file. Text that is not JSON throws `bad-cut`. */
export function parseCutText(text: string): Cut {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (cause) {
    throw new KenosisError('bad-cut', 'cut: expected a JSON document', { cause });
  }
  return parseCut(value);
}

function refuseOtherVersions(value: unknown): void {
  if (typeof value !== 'object' || value === null || !('version' in value)) return;
  const { version } = value;
  if (version !== CUT_VERSION) {
    throw new KenosisError(
      'unknown-cut-version',
      `cut.version: expected ${CUT_VERSION}, got ${String(version)}; it was written by another version of Kenosis`,
    );
  }
}

function pathOf(path: readonly PropertyKey[]): string {
  return path.map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`)).join('');
}
