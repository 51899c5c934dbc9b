import { USUAL_LANGUAGE } from '@/core/languages/language';
import { composeMessage } from '@/core/messages/message';
import type { State } from '@/core/lifecycle/state';
import type { EngineCall, EngineCalls, EngineNews } from '@/engine/link/protocol';
import type { FollowerPost } from '@/engine/followers/follower-post';
import type { LookPlanner } from '@/engine/looks/look-planner';
import { runLook, type LookRunnerOptions } from '@/engine/looks/look-runner';
import type { LookThreads } from '@/engine/looks/look-threads';
import { makeOffers } from '@/engine/looks/offers';
import type { WatchLooker } from '@/engine/looks/watch-looker';
import type { Teller } from '@/engine/messages/teller';
import type { House } from '@/channels/frame/house';
import { channelKind } from '@/channels/kinds/registry';
import type { Dispatcher } from '@/engine/messages/dispatcher';
import type { RoomListener } from '@/engine/messages/room-listener';
import type { StateMirror } from '@/engine/messages/state-mirror';
import { sendThrough } from '@/engine/messages/hand-over';
import type { ProofOfLifeSender } from '@/engine/own/proof-of-life';
import type { UplinkMonitor } from '@/engine/own/uplink-monitor';
import type { Housekeeping } from '@/engine/state/housekeeping';
import type { RegisteredWatch, WatchRegistry } from '@/engine/state/watch-registry';
import { fetchPageWords } from '@/probes/diagnosis/page-words';
import type { WebSettings } from '@/probes/kinds/web';
import { openSecrets } from '@/store/db/vault';
import type { Watch } from '@/store/watches/watches';
import { ownEntry } from '@/core/text/own-entry';

const PAGE_LIMIT_MS = 10_000;

/** What the front door may ask of the engine, by name. */
export type Handlers = {
  [C in EngineCall]: (ask: EngineCalls[C]['ask']) => Promise<EngineCalls[C]['answer']>;
};

interface Parts {
  registry: WatchRegistry;
  planner: LookPlanner;
  looker: WatchLooker;
  runner: LookRunnerOptions;
  threads: Pick<LookThreads, 'forget'>;
  outbox: Pick<Dispatcher, 'channelsChanged'>;
  house: House;
  teller: Pick<Teller, 'wake' | 'changed'>;
  line: Pick<UplinkMonitor, 'load' | 'isOut'>;
  housekeeping: Pick<Housekeeping, 'loadWindows' | 'tick'>;
  proof: Pick<ProofOfLifeSender, 'load'>;
  followers: Pick<FollowerPost, 'wake'>;
  mirror: Pick<StateMirror, 'load' | 'changed'>;
  rooms: Pick<RoomListener, 'load' | 'reply'>;
  drainInbox: () => Promise<void>;
  onNews: (news: EngineNews) => void;
  onStop: () => void;
  zone: string;
  linkBase: string;
}

function settingsOf(watch: Watch | undefined): string {
  return watch?.config.type === 'probe' ? JSON.stringify(watch.config.settings) : '';
}

/** Goes on with a watch as it is now. What is new, looks elsewhere or was paused is looked at at once. */
function takeOver(
  { planner, looker, threads }: Parts,
  id: number,
  before: Watch | undefined,
  registered: RegisteredWatch | null,
): State | null {
  if (!registered) {
    planner.remove(id);
    threads.forget(id);
    return null;
  }
  const elsewhere = settingsOf(before) !== settingsOf(registered.watch);
  if (elsewhere) looker.lookAfresh(id);
  planner.reconcile(registered);
  const { watch, rules } = registered;
  if (rules.type === 'probe' && !watch.paused && (elsewhere || before?.paused !== false)) {
    planner.planNow(registered);
  }
  return registered.status.state;
}

export function makeHandlers(parts: Parts): Handlers {
  const { registry, planner, looker, runner, outbox, teller, line, housekeeping } = parts;
  return {
    tryLook: async ({ kind, config }) => {
      if (config.type !== 'probe') throw new Error('Only a probe can look; a check-in waits to hear.');
      return runLook(kind, config, runner);
    },
    offer: ({ typed }) => makeOffers(typed, runner),
    pageWords: ({ settings }) =>
      fetchPageWords(openSecrets(runner.vault, settings) as WebSettings, {
        ...runner,
        timeoutMs: PAGE_LIMIT_MS,
      }),
    lookNow: async ({ watchId, afresh }) => {
      if (afresh) looker.lookAfresh(watchId);
      const registered = registry.get(watchId) ?? (await registry.reload([watchId]))[0];
      if (!registered) throw new Error(`There is no watch ${watchId}.`);
      if (registered.rules.type !== 'probe')
        throw new Error('A check-in watch waits to hear; there is nothing to look at.');
      await planner.lookNow(registered);
      await registry.flush();
      const finding = looker.lastFindingOf(watchId);
      if (!finding) throw new Error('The watch changed while it was looked at. Look again.');
      return finding;
    },
    testChannel: ({ kind, settings, language = USUAL_LANGUAGE, words }) => {
      const text = composeMessage(
        { kind: 'test' },
        { watchName: '', link: parts.linkBase, zone: parts.zone, language },
      );
      const at = runner.now();
      const test = {
        id: `${at}.test`,
        conversation: null,
        event: { kind: 'test' as const },
        at,
        watch: null,
        follows: null,
        first: null,
        take: null,
        answer: null,
        language,
        drill: false,
      };
      return sendThrough({ kind, settings }, { ...text, ...words, ...test }, runner.signal, {
        vault: runner.vault,
        house: parts.house,
      });
    },
    findForChannel: async ({ kind, field, settings }) => {
      const find = ownEntry(channelKind(kind)?.find ?? {}, field);
      if (!find) throw new Error(`Nothing can be found for ${field} of ${kind}.`);
      try {
        return { found: await find(openSecrets(runner.vault, settings), runner.signal) };
      } catch (error) {
        return { problem: (error as Error).message };
      }
    },
    uplinkChanged: async () => {
      await line.load();
      return { out: await line.isOut() };
    },
    watchesChanged: async ({ watchIds, renamed = false }) => {
      const before = new Map(watchIds.map((id) => [id, registry.get(id)?.watch]));
      const registered = await registry.reload(watchIds);
      // Watches and routes know the new name at the same moment: nothing falls between the two.
      const rerouted = renamed ? teller.changed() : null;
      // What maintenance is for may be all of a section, or all with a tag.
      await housekeeping.loadWindows();
      await rerouted;
      teller.wake();
      const states = watchIds.map((id, i) => takeOver(parts, id, before.get(id), registered[i] ?? null));
      // What came or went is news at once: a job that is brought back may be silent for a month.
      const moved = watchIds.flatMap((id, i) => {
        const state = states[i] ?? null;
        if ((before.get(id) === undefined) === (state === null)) return [];
        return [{ id, state: state ?? 'paused', at: runner.now() }];
      });
      if (moved.length > 0) parts.onNews({ watches: moved, deliveries: false });
      await registry.flush();
      parts.mirror.changed(watchIds);
      return { states };
    },
    inbox: async () => {
      await parts.drainInbox();
      return {};
    },
    replyInChannel: async ({ channelId, text, to }) => {
      await parts.rooms.reply(channelId, text, to);
      return {};
    },
    routesChanged: async () => {
      await teller.changed();
      return {};
    },
    channelsChanged: async () => {
      await teller.changed();
      await outbox.channelsChanged();
      await parts.mirror.load();
      await parts.rooms.load();
      return {};
    },
    proofChanged: async () => {
      await parts.proof.load();
      return {};
    },
    windowsChanged: async () => {
      await housekeeping.loadWindows();
      housekeeping.tick();
      teller.wake();
      parts.followers.wake();
      await registry.flush();
      return {};
    },
    lettersChanged: async () => {
      parts.followers.wake();
      return {};
    },
    ping: async () => ({ pid: process.pid }),
    stop: async () => {
      parts.onStop();
      return {};
    },
  };
}
