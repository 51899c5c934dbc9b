import type { EventEmitter } from 'node:events';
import { EngineAwayError } from '@/engine/link/link';
import type { World } from '@/cases/frame/world';
import type { DoorHandlers } from './protocol';

/** Does for the desk what stands at the front door. */
export function doorHandlers(
  { engine, mailEndpoint, previews, arrivals, forgetKeys }: World,
  hub: EventEmitter,
): DoorHandlers {
  return {
    engine: async ({ call, ask }) => {
      try {
        return { answer: await engine.call(call, ask as never) };
      } catch (error) {
        if (error instanceof EngineAwayError) return { away: true };
        throw error;
      }
    },
    connected: () => engine.isConnected(),
    changed: ({ event, pageId }) => {
      hub.emit(event, pageId);
      return null;
    },
    forgetKeys: async () => {
      await forgetKeys();
      return null;
    },
    mail: () => mailEndpoint.state(),
    changeMail: async (settings) => {
      await mailEndpoint.change(settings);
      return null;
    },
    keepPreview: (draft) => previews.keep(draft),
    expectArrival: () => arrivals.expect(),
    cameBy: (path) => arrivals.came(path),
  };
}
