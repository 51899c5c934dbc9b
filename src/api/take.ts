import type { ServerContext } from '@/server/context';
import { takeAsHolder } from '@/cases/messages/taking';
import { asResponse } from './dispatch';
import { readJson, refuseCrossSite } from './request';

/** Takes what a link in a message is about; whoever holds the link need not sign in. */
export function takeLinked(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('take by link', async () => {
    refuseCrossSite(request);
    await takeAsHolder(await readJson(request), context);
    return new Response(null, { status: 204 });
  });
}
