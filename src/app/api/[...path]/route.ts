import { answerApi } from '@/api/answer-api';
import { serverContext } from '@/server/context';

/**
 * The one file for all of the API. Each route of the framework is built with all it needs by itself: with one for each
 * address, the same megabytes would be built, shipped and read once for each.
 */
async function handle(
  request: Request,
  { params }: { params: Promise<{ path: string[] }> },
): Promise<Response> {
  return answerApi(request, (await params).path, serverContext());
}

export {
  handle as DELETE,
  handle as GET,
  handle as HEAD,
  handle as OPTIONS,
  handle as PATCH,
  handle as POST,
  handle as PUT,
};
