import type { Route } from '@/api/route';
import { accessRoutes } from './access';
import { followerRoutes } from './followers';
import { historyRoutes } from './history';
import { jobRoutes } from './jobs';
import { lookRoutes } from './looks';
import { machineRoutes } from './machine';
import { overviewRoutes } from './overview';
import { maintenanceRoutes } from './maintenance';
import { messageRoutes } from './messages';
import { publicRoutes } from './pages';
import { privateBadgeRoutes } from './private-badges';
import { publicTextRoutes } from './public-texts';
import { drillRoutes } from './drills';
import { routeRoutes } from './routes';
import { sectionAndTagRoutes } from './sections';
import { textRoutes } from './texts';
import { watchRoutes } from './watches';

/** Every operation of the API. What has a fixed word in its path stands before what has an id there. */
export const ROUTES: readonly Route[] = [
  ...watchRoutes,
  ...lookRoutes,
  ...historyRoutes,
  ...publicTextRoutes,
  ...sectionAndTagRoutes,
  ...jobRoutes,
  ...messageRoutes,
  ...routeRoutes,
  ...drillRoutes,
  ...textRoutes,
  ...publicRoutes,
  ...privateBadgeRoutes,
  ...maintenanceRoutes,
  ...followerRoutes,
  ...machineRoutes,
  ...overviewRoutes,
  ...accessRoutes,
];
