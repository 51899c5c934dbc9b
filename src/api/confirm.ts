import type { ServerContext } from '@/server/context';
import { confirmAddress, CONFIRMER } from '@/cases/messages/consent';
import { asResponse } from './dispatch';
import { readJson, refuseCrossSite } from './request';

/** Says that an address wants messages; whoever holds the link in the mail need not sign in. */
export function confirmLinked(request: Request, context: ServerContext): Promise<Response> {
  return asResponse('confirm by link', async () => {
    refuseCrossSite(request);
    await confirmAddress(CONFIRMER, { body: await readJson(request) }, context);
    return new Response(null, { status: 204 });
  });
}
