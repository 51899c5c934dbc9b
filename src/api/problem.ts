import type { Refusal } from '@/cases/frame/refusal';
import { refusalKind, type RefusalCode } from '@/cases/frame/refusals';

/** A refusal repeats what came, and is not to grow with it. */
const MOST_FIELDS = 50;
const LONGEST_FIELD = 200;
const LONGEST_MESSAGE = 600;
const LONGEST_DETAIL = 4000;

function cut(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, most)}…`;
}

/** Where a code is explained. */
export function problemType(code: RefusalCode): string {
  return `/reference#refusal-${code}`;
}

/** A refusal as RFC 9457 problem details. */
export function problemResponse(refusal: Refusal, headers: Record<string, string> = {}): Response {
  const { status, title } = refusalKind(refusal.code);
  const errors = refusal.fields.slice(0, MOST_FIELDS).map(({ field, message }) => ({
    field: cut(field, LONGEST_FIELD),
    message: cut(message, LONGEST_MESSAGE),
  }));
  const body = {
    type: problemType(refusal.code),
    code: refusal.code,
    status,
    title,
    detail: cut(refusal.detail, LONGEST_DETAIL),
    ...(errors.length > 0 && { errors }),
  };
  return new Response(JSON.stringify(body), {
    status,
    headers: {
      'content-type': 'application/problem+json',
      'cache-control': 'no-store',
      ...(refusal.code === 'signin.needed' && { 'www-authenticate': 'Bearer' }),
      ...(refusal.retryAfter !== null && { 'retry-after': String(refusal.retryAfter) }),
      ...headers,
    },
  });
}
