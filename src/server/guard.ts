import { type z } from 'zod';
import { type ErrorCode, isKenosisError, isOutOfSpace, KenosisError, type WayOut } from '../core/errors';
import { isLocalHost } from './local-host';

const STATUS: Partial<Record<ErrorCode, number>> = {
  'not-found': 404,
  conflict: 409,
  'held-back': 409,
  'no-cutout': 409,
  'not-ready': 406,
  'nothing-to-undo': 409,
  'nothing-to-redo': 409,
  forbidden: 403,
  'missing-original': 409,
  'changed-original': 409,
  'too-slow': 503,
  'too-many-bytes': 413,
  'verification-failed': 500,
  'no-space': 507,
  aborted: 499,
};

/** What every refused request answers with. */
export interface Refusal {
  readonly code: ErrorCode | 'unexpected';
  readonly message: string;
  /** What may be chosen about it. */
  readonly wayOut?: WayOut;
}

/**
 * Wraps a route handler: refuses foreign hosts and, where something is changed, foreign origins; turns errors into a
 * `Refusal` with a fitting status. Errors without a code are logged here and told in general words.
 */
export function guarded<Context>(
  handler: (request: Request, context: Context) => Promise<Response>,
): (request: Request, context: Context) => Promise<Response> {
  return async (request, context) => {
    try {
      assertLocal(request);
      return await handler(request, context);
    } catch (error) {
      return refuse(error);
    }
  };
}

function assertLocal(request: Request): void {
  const host = request.headers.get('host');
  if (!isLocalHost(host))
    throw new KenosisError('forbidden', 'Kenosis answers only under its local address.');
  if (request.method === 'GET' || request.method === 'HEAD') return;
  if (request.headers.get('origin') !== `http://${host}`) {
    throw new KenosisError('forbidden', 'This change was asked for by a page that is not Kenosis.');
  }
}

/** An error as the answer to a request. */
export function refuse(error: unknown): Response {
  if (isOutOfSpace(error)) return answer('no-space', 507, wordsOf(error) || FULL);
  if (isKenosisError(error))
    return answer(error.code, STATUS[error.code] ?? 400, error.message, error.wayOut);
  console.error(error);
  return answer(
    'unexpected',
    500,
    'Something went wrong inside Kenosis. Your pieces are safe; the terminal shows the details.',
  );
}

const FULL =
  'The disk with the data folder is full. Nothing was changed and nothing is lost: free some space, for instance by emptying the trash, and do it again.';

/** The message of an error that was written for a person. */
function wordsOf(error: unknown): string {
  return isKenosisError(error) && error.code === 'no-space' ? error.message : '';
}

function answer(
  code: Refusal['code'],
  status: number,
  message: string,
  wayOut: WayOut | null = null,
): Response {
  const refusal: Refusal = wayOut === null ? { code, message } : { code, message, wayOut };
  return Response.json(refusal, { status });
}

/** Larger documents than this are refused before they are read. */
const MOST_JSON_BYTES = 4_000_000;

/** Checks a JSON body against a schema. Throws `bad-argument` with the field's path, and `too-many-bytes` over `mostBytes`. */
export async function readBody<T>(
  request: Request,
  schema: z.ZodType<T>,
  mostBytes = MOST_JSON_BYTES,
): Promise<T> {
  let value: unknown;
  try {
    value = JSON.parse(await readText(request, mostBytes));
  } catch (cause) {
    if (isKenosisError(cause)) throw cause;
    throw new KenosisError('bad-argument', 'body: expected a JSON document', { cause });
  }
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  throw new KenosisError('bad-argument', `body.${issue.path.join('.')}: ${issue.message}`);
}

async function readText(request: Request, mostBytes: number): Promise<string> {
  const tooLarge = () =>
    new KenosisError(
      'too-many-bytes',
      `body: expected at most ${mostBytes / 1e6} MB of JSON. Nothing was changed.`,
    );
  if (Number(request.headers.get('content-length') ?? 0) > mostBytes) throw tooLarge();
  const decoder = new TextDecoder();
  let text = '';
  let bytes = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += chunk.length;
    if (bytes > mostBytes) throw tooLarge();
    text += decoder.decode(chunk, { stream: true });
  }
  return text + decoder.decode();
}

/** A piece's id out of an address. Throws `not-found` for what cannot be one. */
export function checkPieceId(id: string): string {
  if (/^[0-9a-f]{16}$/.test(id)) return id;
  throw new KenosisError('not-found', 'There is no piece under this address.');
}

/** A whole number out of an address. Throws `bad-argument`. */
export function checkNumber(field: string, text: string | null): number {
  if (text !== null && /^\d{1,15}$/.test(text)) return Number(text);
  throw new KenosisError('bad-argument', `${field}: expected a whole number, got ${String(text)}`);
}
