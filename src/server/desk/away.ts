import type { IncomingMessage, ServerResponse } from 'node:http';
import { refusalKind } from '@/cases/frame/refusals';

const RETRY_S = 3;
const NOTHING_LOST = 'What was under way goes on: check-ins are heard, looks are made, messages are sent.';
const NOT_TAKEN = 'What you sent was not taken in. Go back and send it once more in a moment.';
const NOT_KNOWN = 'Whether what you sent was taken in is not known. Look before you send it once more.';

const AWAY = 'The desk is being started again.';
const BUSY = 'Too much is asked of the desk at once.';

function page(why: string, text: readonly string[], again: boolean): string {
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
${again ? `<meta http-equiv="refresh" content="${RETRY_S}">\n` : ''}<title>One moment · Calm Lantern</title>
<style>
  html { color-scheme: light dark; background: light-dark(#f6f1e4, #101a2b); color: light-dark(#22303c, #e9e2d0); }
  body { max-width: 34rem; margin: 18vh auto; padding: 0 1.5rem; font: 1.05rem/1.6 system-ui, sans-serif; }
  h1 { font: 600 1.9rem/1.3 Georgia, serif; }
</style>
<h1>${why}</h1>
${text.map((line) => `<p>${line}</p>`).join('\n')}
</html>
`;
}

/** Says in plain words that nobody is there to draw pages or to answer the API. */
export function sayAway(
  request: IncomingMessage,
  response: ServerResponse,
  /** The desk ended while it was about it; or it is there, and has no room for more. */
  { mayBeDone = false, busy = false }: { mayBeDone?: boolean; busy?: boolean } = {},
): void {
  const why = busy ? BUSY : AWAY;
  const reads = ['GET', 'HEAD'].includes(request.method ?? '');
  const ofWrite = mayBeDone ? NOT_KNOWN : NOT_TAKEN;
  const common = { 'retry-after': String(RETRY_S), 'cache-control': 'no-store' };
  // What was not read to its end must not be taken for the next request.
  if (!request.complete) response.setHeader('connection', 'close');
  const say = (type: string, body: string, headers: Record<string, string> = {}) => {
    response.writeHead(503, { 'content-type': type, ...common, ...headers });
    response.end(request.method === 'HEAD' ? undefined : body);
  };
  if ((request.url ?? '').startsWith('/api/')) {
    const { status, title } = refusalKind('desk.away');
    const detail = `${why}${reads ? '' : ` ${ofWrite}`}`;
    const problem = { type: '/reference#refusal-desk.away', code: 'desk.away', status, title, detail };
    return say('application/problem+json', JSON.stringify(problem));
  }
  const again = reads ? 'This page asks again by itself in a few seconds.' : ofWrite;
  say('text/html; charset=utf-8', page(why, [again, NOTHING_LOST], reads), {
    'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'",
  });
}
