import type { IncomingMessage, ServerResponse } from 'node:http';
import { isLocalHost } from './local-host';

const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE']);

/** What every answer of the application's own data may do in a browser: nothing. */
const POLICY = "default-src 'none'; frame-ancestors 'none'";

/**
 * Looks at a request before the router does: refuses foreign hosts, changes that a page of others asks for, methods that
 * nothing here answers to, and addresses that cannot be read. Returns whether it may go on; where not, it was answered.
 */
export function admit(request: IncomingMessage, response: ServerResponse): boolean {
  const { method = '', url = '', headers } = request;
  if (!isLocalHost(headers.host ?? null))
    return refuse(response, 403, 'forbidden', 'Kenosis answers only under its local address.');
  if (!METHODS.has(method)) {
    response.setHeader('allow', [...METHODS].join(', '));
    return refuse(response, 405, 'bad-argument', `method: expected one of ${[...METHODS].join(', ')}`);
  }
  const isReading = method === 'GET' || method === 'HEAD';
  if (!isReading && headers.origin !== `http://${headers.host}`)
    return refuse(response, 403, 'forbidden', 'This change was asked for by a page that is not Kenosis.');
  if (!isReading && !url.startsWith('/api/')) {
    response.setHeader('allow', 'GET, HEAD');
    return refuse(response, 405, 'bad-argument', 'method: expected GET or HEAD for a page');
  }
  if (!isReadable(url))
    return refuse(response, 400, 'bad-argument', 'address: expected one that can be read, got a broken one');
  return true;
}

function isReadable(url: string): boolean {
  if (!url.startsWith('/')) return false;
  try {
    return !decodeURIComponent(url.split('?')[0]!).includes('\0');
  } catch {
    return false;
  }
}

function refuse(response: ServerResponse, status: number, code: string, message: string): false {
  response.writeHead(status, {
    'content-type': 'application/json',
    'content-security-policy': POLICY,
    'x-content-type-options': 'nosniff',
    'cache-control': 'no-store',
    connection: 'close',
  });
  response.end(JSON.stringify({ code, message }));
  return false;
}
