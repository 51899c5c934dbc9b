import type { ServerContext } from '@/server/context';
import { holderOf, takeByLink } from '@/cases/messages/taking';
import { asResponse } from './dispatch';
import { readJson, refuseCrossSite } from './request';

/** Takes what a link in a message is about; whoever holds the link need not sign in. */
export function takeLinked(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('take by link', async () => {
    refuseCrossSite(request);
    const body = await readJson(request);
    const by = (body as { by?: unknown } | null)?.by;
    // A number is taken for text here as elsewhere; what else it may be is refused.
    const name = typeof by === 'string' || typeof by === 'number' ? String(by) : '';
    await takeByLink(holderOf(name), { body }, context);
    return new Response(null, { status: 204 });
  });
}
