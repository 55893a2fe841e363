import { NextResponse, type NextRequest } from 'next/server';
import { isLocalHost } from './server/local-host';

/**
 * Pages: refuses foreign hosts and sets a content policy with a fresh nonce. Styles may be inline, since components
 * position themselves by style attributes; scripts may not.
 */
export function proxy(request: NextRequest): NextResponse {
  if (!isLocalHost(request.headers.get('host'))) {
    return new NextResponse('Kenosis answers only under its local address.', { status: 403 });
  }
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const development = process.env.NODE_ENV === 'development';
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development ? " 'unsafe-eval'" : ''}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

// Every page, those that are not there as well; neither data, nor files of the build.
export const config = { matcher: ['/((?!api/|_next/).*)'] };
