import type { Route } from '../route';
import { lineRoutes } from './line';
import { messageRoutes } from './messages';
import { publicRoutes } from './pages';
import { trialRoutes } from './trials';
import { watchRoutes } from './watches';

/** Every operation of the API. */
export const ROUTES: readonly Route[] = [
  ...watchRoutes,
  ...trialRoutes,
  ...messageRoutes,
  ...publicRoutes,
  ...lineRoutes,
];
