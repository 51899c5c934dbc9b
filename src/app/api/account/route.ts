import { changeAccount } from '@/api/account';
import { serverContext } from '@/server/context';

export const PATCH = (request: Request) => changeAccount(request, serverContext());
