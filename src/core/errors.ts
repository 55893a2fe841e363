/** Stable codes of everything a person may be told; the wording may change, the codes do not. */
export type ErrorCode =
  | 'bad-argument'
  | 'bad-cut'
  | 'unknown-cut-version'
  | 'not-a-picture'
  | 'damaged-picture'
  | 'empty-file'
  | 'too-many-bytes'
  | 'too-many-pixels'
  | 'animated-picture'
  | 'unsupported-format'
  | 'not-found'
  | 'conflict'
  | 'forbidden'
  | 'nothing-to-undo'
  | 'nothing-to-redo'
  | 'no-ink'
  | 'nothing-left'
  | 'verification-failed'
  | 'too-busy'
  | 'no-space'
  | 'cannot-write'
  | 'aborted';

/** An error with a code that callers may test and a message that a person may read. */
export class KenosisError extends Error {
  readonly code: ErrorCode;

  constructor(code: ErrorCode, message: string, options?: { cause?: unknown }) {
    super(message, options);
    this.name = 'KenosisError';
    this.code = code;
  }
}

/** Says in the house's words what was expected and what came: `tolerance: expected 0 to 100, got 140`. */
export function badArgument(field: string, expected: string, got: unknown): KenosisError {
  return new KenosisError('bad-argument', `${field}: expected ${expected}, got ${String(got)}`);
}

/**
 * Whether an error is one of ours. By its name, not its class: a program that is bundled in parts holds the class
 * once in each of them.
 */
export function isKenosisError(error: unknown): error is KenosisError {
  return error instanceof Error && error.name === 'KenosisError';
}
