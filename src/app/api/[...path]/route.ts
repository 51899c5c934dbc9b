import { dispatch, refuseElsewhere } from '@/api/dispatch';
import { serverContext } from '@/server/context';

/** The one way into the API: what lies under /api/v1, and a problem document for all else. */
async function handle(
  request: Request,
  { params }: { params: Promise<{ path: string[] }> },
): Promise<Response> {
  const { path } = await params;
  const lies = (parts: string[]) => parts.map((part) => `/${part}`).join('');
  return path[0] === 'v1'
    ? dispatch(request, lies(path.slice(1)), serverContext())
    : refuseElsewhere(request, lies(path), serverContext());
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
