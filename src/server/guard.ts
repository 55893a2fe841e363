import { type z } from 'zod';
import { type ErrorCode, isKenosisError, KenosisError } from '../core/errors';
import { isLocalHost } from './local-host';

const STATUS: Partial<Record<ErrorCode, number>> = {
  'not-found': 404,
  conflict: 409,
  'nothing-to-undo': 409,
  'nothing-to-redo': 409,
  forbidden: 403,
  'too-many-bytes': 413,
  'verification-failed': 500,
  'no-space': 507,
  aborted: 499,
};

/** What every refused request answers with. */
export interface Refusal {
  readonly code: ErrorCode | 'unexpected';
  readonly message: string;
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

function refuse(error: unknown): Response {
  if (isKenosisError(error)) {
    return Response.json({ code: error.code, message: error.message } satisfies Refusal, {
      status: STATUS[error.code] ?? 400,
    });
  }
  console.error(error);
  const message =
    'Something went wrong inside Kenosis. Your pieces are safe; the terminal shows the details.';
  return Response.json({ code: 'unexpected', message } satisfies Refusal, { status: 500 });
}

/** Checks a JSON body against a schema. Throws `bad-argument` with the field's path. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
  let value: unknown;
  try {
    value = await request.json();
  } catch (cause) {
    throw new KenosisError('bad-argument', 'body: expected a JSON document', { cause });
  }
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  const issue = result.error.issues[0]!;
  throw new KenosisError('bad-argument', `body.${issue.path.join('.')}: ${issue.message}`);
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
