import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';

/**
 * What a page may load and run (Content Security Policy, level 3): only what ships with the application. Inline
 * scripts carry the nonce; Next puts it on its own. Charts set styles on their elements, which needs 'unsafe-inline'
 * for styles.
 */
export function contentPolicy(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data:",
    "font-src 'self'",
    "connect-src 'self'",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Headers every answer has. `encrypted` where the public address is https. */
export function setSecurityHeaders(response: ServerResponse, encrypted: boolean): void {
  response.setHeader('x-content-type-options', 'nosniff');
  response.setHeader('x-frame-options', 'DENY');
  response.setHeader('referrer-policy', 'same-origin');
  response.setHeader('cross-origin-opener-policy', 'same-origin');
  if (encrypted) response.setHeader('strict-transport-security', 'max-age=31536000');
}

/** Gives a page that is drawn now its policy: Next reads the nonce from the header of the request. */
export function setContentPolicy(request: IncomingMessage, response: ServerResponse): void {
  const policy = contentPolicy(randomBytes(16).toString('base64'));
  request.headers['content-security-policy'] = policy;
  response.setHeader('content-security-policy', policy);
}

/**
 * The headers that mean something to the pages and to the API. Everything else a client sends is dropped before Next
 * sees it: frameworks have headers of their own by which they are told what to do.
 */
const PASSED_ON = new Set([
  'accept',
  'accept-encoding',
  'accept-language',
  'authorization',
  'connection',
  'content-encoding',
  'content-length',
  'content-type',
  'cookie',
  'host',
  'if-match',
  'if-modified-since',
  'if-none-match',
  'idempotency-key',
  'next-router-prefetch',
  'next-router-segment-prefetch',
  'next-router-state-tree',
  'next-url',
  'origin',
  'range',
  'referer',
  'rsc',
  'sec-fetch-dest',
  'sec-fetch-mode',
  'sec-fetch-site',
  'transfer-encoding',
  'user-agent',
  'x-forwarded-host',
  'x-forwarded-port',
  'x-forwarded-proto',
]);

/** Takes every header off a request that nothing here reads. */
export function dropUnknownHeaders(request: IncomingMessage, rest: readonly string[] = []): void {
  for (const name of Object.keys(request.headers)) {
    if (!PASSED_ON.has(name) && !rest.includes(name)) delete request.headers[name];
  }
}
