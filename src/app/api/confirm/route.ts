import { confirmLinked } from '@/api/confirm';
import { serverContext } from '@/server/context';

export const POST = (request: Request) => confirmLinked(request, serverContext());
