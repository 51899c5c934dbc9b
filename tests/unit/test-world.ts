import { EventEmitter } from 'node:events';
import type { World } from '@/cases/frame/world';

/** What use cases are given, without a product around them: an engine that takes everything, and what a test says. */
export function testWorld(own: Partial<World>): World {
  const world: Partial<World> = {
    hub: new EventEmitter() as World['hub'],
    place: { linkBase: 'http://x.test', zone: 'UTC' },
    engine: { isConnected: () => true, call: () => Promise.resolve({} as never) },
    onError: (error) => {
      throw error;
    },
    ...own,
  };
  return world as World;
}
