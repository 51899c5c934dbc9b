import type { World } from '@/cases/frame/world';
import type { Environment } from '@/core/settings/environment';

/** What use cases are given here, with what else pages and API read. */
export interface ServerContext extends World {
  environment: Environment;
  /** What has to be typed with the first account by whoever is not at this machine. */
  firstCode: string;
}

const KEY = Symbol.for('calm-lantern.context');
const holder = globalThis as { [KEY]?: ServerContext };

/** Pages are bundled apart from the desk that runs them: the global object joins the two. */
export function setServerContext(context: ServerContext): void {
  holder[KEY] = context;
}

export function serverContext(): ServerContext {
  const context = holder[KEY];
  if (!context) throw new Error('The application was not started through its front door (npm start).');
  return context;
}
