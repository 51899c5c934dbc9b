import * as tokens from '@/cases/access/tokens';
import { tokenSchema } from '@/cases/schemas/messages';
import type { ApiToken } from '@/store/access/tokens';
import { deed, newToken, token } from '@/api/answers/others';
import { byTime, route, type Route } from '@/api/route';
import { createRoute, deleteRoute, getRoute, listRoute, type Resource } from './resource';

const TAG = 'Access';

const TOKEN: Resource<ApiToken> = {
  path: '/tokens',
  tag: TAG,
  what: 'API token',
  shape: token,
  tell: (_, one) => one,
};

export const accessRoutes: Route[] = [
  listRoute(TOKEN, { does: tokens.listTokens, answer: 'Tokens, without their secrets.' }),
  createRoute(
    { ...TOKEN, shape: newToken },
    {
      does: tokens.createToken,
      summary: 'Make an API token',
      answer: 'The token; its secret is shown this once.',
      body: tokenSchema,
      example: { name: 'nightly report' },
    },
  ),
  getRoute(TOKEN, { does: tokens.getToken }),
  deleteRoute(TOKEN, { does: tokens.revokeToken, summary: 'Revoke an API token' }),
  route({
    method: 'GET',
    path: '/deeds',
    tag: TAG,
    summary: 'Who changed what',
    does: tokens.listDeeds,
    list: byTime((item: { at: number; id: number }) => [item.at, item.id]),
    status: 200,
    answer: 'What was changed, by whom and when, the newest first.',
    shape: { each: deed },
    input: ({ page }) => ({ page }),
  }),
];
