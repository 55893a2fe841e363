import { KenosisError, type ErrorCode } from './errors';

/** A kind of document that people keep, hand on and bring back: what it is called, and the codes of its errors. */
export interface DocumentKind<T> {
  /** As errors name it: `routine`. */
  readonly noun: string;
  readonly version: number;
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
  const version = (value as { readonly version?: unknown } | null)?.version;
  if (typeof version === 'number' && version > kind.version)
    throw new KenosisError(
      kind.newer,
      `${noun}.version: expected ${kind.version}, got ${version}; it was written by a newer Kenosis. Nothing was changed. Use that one, or write the ${noun} out of it again.`,
    );
  const result = kind.schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  const place = issue.path
    .map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`))
    .join('');
  const extra =
    issue.code === 'unrecognized_keys' ? `unknown field ${(issue.keys ?? []).join(', ')}` : issue.message;
  throw new KenosisError(kind.bad, `${noun}${place}: ${extra}`);
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
