import { refuseElsewhere } from '@/api/dispatch';
import { serverContext } from '@/server/context';

async function handle(
  request: Request,
  { params }: { params: Promise<{ path: string[] }> },
): Promise<Response> {
  return refuseElsewhere(request, `/${(await params).path.join('/')}`, serverContext());
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
