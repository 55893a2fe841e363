import { KenosisError, type ErrorCode } from './errors';

export type Upgrade = (document: object) => object;

/** A kind of document that people keep, hand on and bring back: what it is called, and the codes of its errors. */
export interface DocumentKind<T> {
  /** As errors name it: `routine`. */
  readonly noun: string;
  readonly version: number;
  /**
   * Leads documents of each earlier version to the next one, the first of them from version 1 to 2. A step never changes once it
   * has shipped, and uses nothing of what is true today.
   */
  readonly steps: readonly Upgrade[];
  /** Documents of version 1 say no version. */
  readonly isFirstUnnumbered?: true;
  readonly schema: {
    safeParse(value: unknown):
      | { readonly success: true; readonly data: T }
      | {
          readonly success: false;
          readonly error: {
            readonly issues: readonly {
              readonly path: readonly PropertyKey[];
              readonly message: string;
              readonly code?: string;
              readonly keys?: readonly string[];
            }[];
          };
        };
  };
  readonly bad: ErrorCode;
  readonly newer: ErrorCode;
}

/** Checks a document that came from outside. Throws its `bad` code with the field's path, and `newer` for that of a later Kenosis. */
export function checkDocument<T>(kind: DocumentKind<T>, value: unknown): T {
  const { noun } = kind;
  const said = (value as { readonly version?: unknown } | null)?.version;
  const version = said === undefined && kind.isFirstUnnumbered ? 1 : said;
  if (typeof version === 'number' && version > kind.version)
    throw new KenosisError(
      kind.newer,
      `${noun}.version: expected ${kind.version}, got ${version}; it was written by a newer Kenosis. Nothing was changed. Use that one, or write the ${noun} out of it again.`,
    );
  const result = kind.schema.safeParse(upgraded(kind.steps, version, value));
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const place = issue.path
    .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
    .join('');
  const extra =
    issue.code === 'unrecognized_keys' ? `unknown field ${(issue.keys ?? []).join(', ')}` : issue.message;
  throw new KenosisError(kind.bad, `${noun}${place}: ${extra}`);
}

/** A document of an earlier version as one of this; anything else as it is. */
function upgraded(steps: readonly Upgrade[], version: unknown, value: unknown): unknown {
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) return value;
  if (typeof value !== 'object' || value === null) return value;
  return steps.slice(version - 1).reduce((document, step) => step(document), value);
}

/** Reads the text of a file with a document. Text that is not JSON throws its `bad` code. */
export function readDocument<T>(kind: DocumentKind<T>, text: string): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (cause) {
    throw new KenosisError(kind.bad, `${kind.noun}: expected a JSON document`, { cause });
  }
  return checkDocument(kind, value);
}

/** Kinds of rows of a house that have a document in them: a run and a watched folder have their routine. */
export const DOCUMENT_KINDS = ['proof', 'watermark', 'routine', 'set', 'run', 'watch'] as const;

export type RowKind = (typeof DOCUMENT_KINDS)[number];

/** A row whose document cannot be read. It is left as it is. */
export interface UnreadableRow {
  readonly kind: RowKind;
  readonly id: string;
  readonly name: string;
  readonly why: string;
}
