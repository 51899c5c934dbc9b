import { takeLinked } from '@/api/take';
import { serverContext } from '@/server/context';

export const POST = (request: Request) => takeLinked(request, serverContext());
