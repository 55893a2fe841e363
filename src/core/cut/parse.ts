import { KenosisError } from '../errors';
import type { Stage } from '../stages/stage';
import { STAGES } from '../stages/stages';
import type { z } from 'zod';
import { sameColorway } from './colorway-name';
import { ONLY_PAGE, type Page } from './page';
import { CUT_VERSION, cutSchema, cutSchemaOf, type Cut } from './schema';
import { olderSchema, upgraded } from './upgrade';

/** The cut of a piece that nobody has touched. */
export function untouchedCut(stages: readonly Stage[] = STAGES, page: Page = ONLY_PAGE): Cut {
  const empty = { format: 'kenosis-cut', version: CUT_VERSION, page, findings: { dismissed: [] } };
  return complete(empty, stages) as Cut;
}

/**
 * Checks a cut that came from outside. Unknown fields, missing fields and values out of range throw `bad-cut` with
 * the field's path; a version that is not known throws `unknown-cut-version`; an older one is brought up to date, and a
 * stage that is not named is untouched, a page that is not named the only one. Nothing is dropped or repaired silently.
 */
export function parseCut(value: unknown, stages: readonly Stage[] = STAGES): Cut {
  const version = versionOf(value);
  const current = isOlder(version) ? upgraded(checked(olderSchema, value)) : value;
  const cut = checked(
    stages === STAGES ? cutSchema : cutSchemaOf(stages),
    isObject(current) ? complete(current, stages) : current,
  );
  const ids = new Set<string>();
  for (const sample of cut.clear.samples) {
    if (ids.has(sample.id))
      throw new KenosisError('bad-cut', `cut.clear.samples: the id ${sample.id} occurs twice`);
    ids.add(sample.id);
  }
  cut.ink.colorways.forEach(({ name }, k, all) => {
    if (all.findIndex((one) => sameColorway(one.name, name)) < k)
      throw new KenosisError('bad-cut', `cut.ink.colorways: the name ${name} occurs twice`);
  });
  return cut;
}

/** The same with every stage that it does not name, untouched; the page stands before the stages, findings behind them. */
function complete(
  { format, version, page = ONLY_PAGE, findings, ...cut }: Readonly<Record<string, unknown>>,
  stages: readonly Stage[],
): object {
  const missing = stages.filter(({ key }) => cut[key] === undefined);
  const untouched = Object.fromEntries(missing.map(({ key, untouched }) => [key, untouched]));
  const named = { format, version, page, ...cut, ...untouched };
  return findings === undefined ? named : { ...named, findings };
}

function checked<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const extra = issue.code === 'unrecognized_keys' ? `unknown field ${issue.keys.join(', ')}` : issue.message;
  throw new KenosisError('bad-cut', `cut${pathOf(issue.path)}: ${extra}`);
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

/** The version a cut says it has; undefined where it says none. */
function versionOf(value: unknown): unknown {
  if (!isObject(value) || !('version' in value)) return undefined;
  const { version } = value;
  if (isOlder(version) || version === CUT_VERSION) return version;
  throw new KenosisError(
    'unknown-cut-version',
    `cut.version: expected 1 to ${CUT_VERSION}, got ${String(version)}; it was written by another version of Kenosis`,
  );
}

function isOlder(version: unknown): boolean {
  return typeof version === 'number' && Number.isInteger(version) && version >= 1 && version < CUT_VERSION;
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null;
}

function pathOf(path: readonly PropertyKey[]): string {
  return path.map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`)).join('');
}
