import { endSessions, listSessions } from '@/api/account';
import { serverContext } from '@/server/context';

export const GET = (request: Request) => listSessions(request, serverContext());
export const DELETE = (request: Request) => endSessions(request, serverContext());
