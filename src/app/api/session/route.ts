import { signIn, signOut } from '@/api/sign-in';
import { serverContext } from '@/server/context';

export const POST = (request: Request) => signIn(request, serverContext());
export const DELETE = (request: Request) => signOut(request, serverContext());
