import { isKnownHost } from '@/server/access/hosts';
import { NextResponse, type NextRequest } from 'next/server';

/**
 * A strict content policy for pages: scripts only from Grento itself, none inline but those that carry this
 * request's nonce. Handlers below /api are guarded where they are (their bodies must not pass through here).
 */
export function proxy(request: NextRequest) {
  if (!isKnownHost(request.headers.get('host') ?? ''))
    return new NextResponse('Grento answers on this machine only.', { status: 403 });
  const nonce = crypto.randomUUID().replaceAll('-', '');
  const policy = [
    "default-src 'self'",
    // Decoders are WebAssembly.
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self'",
    "media-src 'self' blob:",
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

export const config = { matcher: ['/((?!api/|_next/static|_next/image|built/|favicon).*)'] };
