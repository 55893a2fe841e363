/** Stable codes of everything a person may be told; the wording may change, the codes do not. */
export type ErrorCode =
  | 'bad-argument'
  | 'bad-cut'
  | 'bad-bundle'
  | 'bad-routine'
  | 'newer-routine'
  | 'bad-set'
  | 'newer-set'
  | 'bad-proof'
  | 'newer-proof'
  | 'bad-watermark'
  | 'newer-watermark'
  | 'bad-font'
  | 'no-letters'
  | 'missing-material'
  | 'photo-too-small'
  | 'bad-pdf'
  | 'unknown-cut-version'
  | 'not-a-picture'
  | 'damaged-picture'
  | 'empty-file'
  | 'too-many-bytes'
  | 'too-many-pixels'
  | 'several-pictures'
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
  | 'not-sure'
  | 'held-back'
  | 'no-cutout'
  | 'not-ready'
  | 'no-space'
  | 'missing-original'
  | 'changed-original'
  | 'too-slow'
  | 'folder-in-use'
  | 'foreign-folder'
  | 'damaged-database'
  | 'newer-database'
  | 'no-backup'
  | 'cannot-write'
  | 'no-queue'
  | 'aborted';

/** What a person may choose to do about an error: bring a damaged picture in with what can be read of it. */
export type WayOut = 'accept-damaged';

/** An error with a code that callers may test and a message that a person may read. */
export class KenosisError extends Error {
  readonly code: ErrorCode;
  readonly wayOut: WayOut | null;

  constructor(code: ErrorCode, message: string, options: { cause?: unknown; wayOut?: WayOut | null } = {}) {
    super(message, 'cause' in options ? { cause: options.cause } : undefined);
    this.name = 'KenosisError';
    this.code = code;
    this.wayOut = options.wayOut ?? null;
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

/** Whether an error, or what caused it, says that a disk is full. */
export function isOutOfSpace(error: unknown): boolean {
  for (let at: unknown = error, depth = 0; at instanceof Error && depth < 8; depth++) {
    const { code, parent } = at as { code?: unknown; parent?: unknown };
    if (code === 'no-space' || code === 'ENOSPC' || code === 'EDQUOT' || code === 'SQLITE_FULL') return true;
    if (/ENOSPC|EDQUOT|SQLITE_FULL|no space left|disk is full|disk quota/i.test(at.message)) return true;
    at = at.cause ?? parent;
  }
  return false;
}
