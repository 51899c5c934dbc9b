import type { Route } from '@/api/route';
import { jobRoutes } from './jobs';
import { uplinkRoutes } from './uplink';
import { mailRoutes } from './mail';
import { manyRoutes } from './many';
import { messageRoutes } from './messages';
import { publicRoutes } from './pages';
import { filterRoutes, sectionRoutes, tagRoutes } from './sections';
import { sharedRoutes } from './shared';
import { trialRoutes } from './trials';
import { watchRoutes } from './watches';

/** Every operation of the API. */
export const ROUTES: readonly Route[] = [
  ...manyRoutes,
  ...sectionRoutes,
  ...watchRoutes,
  ...trialRoutes,
  ...messageRoutes,
  ...publicRoutes,
  ...jobRoutes,
  ...mailRoutes,
  ...uplinkRoutes,
  ...sharedRoutes,
  ...tagRoutes,
  ...filterRoutes,
];
