import { dispatch } from '@/api/dispatch';
import { serverContext } from '@/server/context';

async function handle(
  request: Request,
  { params }: { params: Promise<{ path: string[] }> },
): Promise<Response> {
  return dispatch(request, `/${(await params).path.join('/')}`, serverContext());
}

export { handle as DELETE, handle as GET, handle as PATCH, handle as POST, handle as PUT };
