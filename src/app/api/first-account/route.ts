import { makeFirstAccount } from '@/api/sign-in';
import { serverContext } from '@/server/context';

export const POST = (request: Request) => makeFirstAccount(request, serverContext());
