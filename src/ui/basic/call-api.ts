'use client';

import { coreName, coreText } from '@/core/settings/wire-names';

/** What an API call came to: a value, with where a list goes on, or what was refused, by field. */
export type ApiResult<T> =
  | { ok: true; value: T; next: string | null }
  | { ok: false; detail: string; fields: Record<string, string>; code?: string };

interface ProblemBody {
  detail?: string;
  code?: string;
  errors?: { field: string; message: string }[];
}

/**
 * Calls the HTTP API the way everyone else does, with the session as its key. `version` is what was read of something
 * that is changed, or "*" for whatever is there: where somebody else has changed it since, nothing is done. Fields come back under the names forms
 * have for them.
 */
export async function callApi<T>(
  method: string,
  path: string,
  body?: unknown,
  version?: string,
): Promise<ApiResult<T>> {
  return answerOf<T>(() =>
    fetch(path.startsWith('/api/') ? path : `/api/v1${path}`, {
      method,
      headers: {
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(version !== undefined && { 'if-match': version === '*' ? '*' : `"${version}"` }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    }),
  );
}

/** Sends a file as it is, by the type the browser takes it for. */
export async function sendFile<T>(path: string, file: File): Promise<ApiResult<T>> {
  const headers = { 'content-type': file.type || 'application/octet-stream' };
  return answerOf<T>(() => fetch(`/api/v1${path}`, { method: 'POST', headers, body: file }));
}

/** Where a list goes on (RFC 8288), as a path of the API; null where it does not. */
function nextOf(response: Response): string | null {
  const target = /<([^>]*)>;\s*rel="next"/.exec(response.headers.get('link') ?? '')?.[1];
  if (target === undefined) return null;
  const { pathname, search } = new URL(target, window.location.href);
  return `${pathname}${search}`;
}

async function answerOf<T>(ask: () => Promise<Response>): Promise<ApiResult<T>> {
  let response: Response;
  try {
    response = await ask();
  } catch {
    return { ok: false, detail: 'Calm Lantern did not answer. What you typed is still here.', fields: {} };
  }
  const text = await response.text();
  let value: unknown = null;
  try {
    value = text === '' ? null : JSON.parse(text);
  } catch {
    return { ok: false, detail: `Expected an answer in JSON, got status ${response.status}.`, fields: {} };
  }
  if (response.ok) return { ok: true, value: value as T, next: nextOf(response) };
  if (response.status === 401) {
    return {
      ok: false,
      detail: 'You are no longer signed in. Sign in in another tab, then try again.',
      fields: {},
    };
  }
  const problem = (value ?? {}) as ProblemBody;
  return {
    ok: false,
    detail: coreText(problem.detail ?? `Refused with status ${response.status}.`),
    ...(problem.code !== undefined && { code: problem.code }),
    fields: Object.fromEntries((problem.errors ?? []).map((e) => [coreName(e.field), coreText(e.message)])),
  };
}

/** The one sentence to show where there is no field to put it at. */
export function problemText({ fields, detail }: { fields: Record<string, string>; detail: string }): string {
  return Object.values(fields)[0] ?? detail;
}

/** Calls the API and says what was wrong with it; null where all is well. */
export async function problemOf(method: string, path: string, body?: unknown): Promise<string | null> {
  const result = await callApi(method, path, body);
  return result.ok ? null : problemText(result);
}
