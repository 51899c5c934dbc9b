import * as badges from '@/cases/pages/private-badges';
import { privateBadgeSchema } from '@/cases/schemas/private-badges';
import { privateBadge } from '@/api/answers/private-badges';
import type { Route } from '@/api/route';
import type { NamedBadge } from '@/store/pages/private-badges';
import * as rest from './resource';

const BADGE: rest.Resource<NamedBadge> = {
  path: '/private-badges',
  tag: 'Public pages',
  what: 'private badge',
  shape: privateBadge,
  versioned: true,
  still: true,
  tell: ({ base }, { secret, ...one }) => ({
    ...one,
    version: badges.privateBadgeVersion({ secret, ...one }),
    address: `${base}/badge/${secret}.svg`,
  }),
};

export const privateBadgeRoutes: Route[] = [
  rest.listRoute(BADGE, { does: badges.listPrivateBadges }),
  rest.createRoute(BADGE, {
    does: badges.createPrivateBadge,
    summary: 'Make a badge of what stands on no page',
    description: 'Whoever knows its address sees it; nobody can guess it.',
    body: privateBadgeSchema,
    example: { watchId: 1 },
  }),
  rest.getRoute(BADGE, { does: badges.getPrivateBadge }),
  rest.deleteRoute(BADGE, {
    does: badges.deletePrivateBadge,
    summary: 'Take a private badge away',
    description: 'Its address leads nowhere from then on.',
  }),
];
