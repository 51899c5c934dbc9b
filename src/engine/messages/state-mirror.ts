import type { Knex } from 'knex';
import type { ChannelKind, MirroredState } from '@/channels/frame/kind';
import { COME_BACK } from '@/channels/frame/lines';
import { channelKind } from '@/channels/kinds/registry';
import { oneLine } from '@/core/messages/safe-text';
import { backoffMs } from '@/core/time/backoff';
import { onceAMinute } from '@/engine/state/once-a-minute';
import type { RegisteredWatch } from '@/engine/state/watch-registry';
import { openSecrets, type Vault } from '@/store/db/vault';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDeletedWatches } from '@/store/watches/deleted-watches';
import type { ChannelLines } from './channel-lines';

/** So many go at once. */
const BATCH = 200;
const GATHER_MS = 100;

interface StateMirrorOptions {
  db: Knex;
  vault: Vault;
  now: () => number;
  lines: Pick<ChannelLines, 'of'>;
  watches: { get: (id: number) => RegisteredWatch | undefined; all: () => RegisteredWatch[] };
  signal: AbortSignal;
  onError: (error: unknown) => void;
}

/** One channel states are left at. */
interface Place {
  kind: ChannelKind<object>;
  settings: object;
  key: string;
  /** What was left there last, by watch. */
  left: Map<number, string>;
  pending: Set<number>;
  failures: number;
  timer: NodeJS.Timeout | null;
  working: boolean;
}

/**
 * Leaves how each watch stands where a channel keeps it for whoever comes later: all of it when the line is opened, and
 * then what changed. It is no message: no route, hours or delay has a say in it.
 */
export class StateMirror {
  private readonly places = new Map<number, Place>();
  private readonly complain: (error: unknown) => void;
  private closed = false;

  constructor(private readonly options: StateMirrorOptions) {
    this.complain = onceAMinute(options.onError);
  }

  /** Reads which channels keep states; at the start, and when channels were changed. */
  async load(): Promise<void> {
    const { db, vault } = this.options;
    const wanted = new Map<number, Pick<Place, 'kind' | 'settings' | 'key'>>();
    for (const { id, kind: name, settings: sealed, enabled } of await fetchChannels(db)) {
      const kind = channelKind(name);
      if (!enabled || !kind?.mirrors) continue;
      try {
        const settings = openSecrets(vault, sealed);
        wanted.set(id, { kind, settings, key: JSON.stringify(settings) });
      } catch (error) {
        this.complain(error);
      }
    }
    for (const [id, place] of this.places) {
      if (wanted.get(id)?.key === place.key) continue;
      if (place.timer) clearTimeout(place.timer);
      this.places.delete(id);
    }
    for (const [id, found] of wanted) {
      if (this.places.has(id)) continue;
      const rest = { left: new Map(), pending: new Set<number>(), failures: 0, timer: null, working: false };
      this.places.set(id, { ...found, ...rest });
      await this.all(id);
    }
  }

  /** The line of a channel was opened: what was left there may be gone. */
  opened(channelId: number): void {
    const place = this.places.get(channelId);
    if (!place || place.left.size === 0) return;
    void this.all(channelId).catch(this.complain);
  }

  private async all(channelId: number): Promise<void> {
    const { db, now, watches } = this.options;
    const gone = await fetchDeletedWatches(db, now());
    const place = this.places.get(channelId);
    if (!place) return;
    for (const { id } of gone) place.pending.add(id);
    for (const { watch } of watches.all()) place.pending.add(watch.id);
    this.soon(channelId, place, GATHER_MS);
  }

  /** These watches may stand otherwise than before, be called otherwise, or be gone. */
  changed(watchIds: readonly number[]): void {
    for (const [channelId, place] of this.places) {
      for (const id of watchIds) if (this.wordsOf(id) !== (place.left.get(id) ?? '')) place.pending.add(id);
      if (place.pending.size > 0) this.soon(channelId, place, GATHER_MS);
    }
  }

  private stateOf(id: number): MirroredState['as'] {
    const registered = this.options.watches.get(id);
    if (!registered) return null;
    const { state, since, warned } = registered.status;
    const wantsHand = state === 'slow' && Boolean(warned);
    return {
      state,
      wantsHand,
      name: oneLine(registered.watch.name),
      stateSinceAt: new Date(since).toISOString(),
    };
  }

  /** The state as it is compared; empty for a watch that is gone. */
  private wordsOf(id: number): string {
    const as = this.stateOf(id);
    return as ? JSON.stringify(as) : '';
  }

  private soon(channelId: number, place: Place, ms: number): void {
    if (this.closed || place.timer || place.working) return;
    place.timer = setTimeout(() => {
      place.timer = null;
      void this.leave(channelId, place);
    }, ms);
  }

  private async leave(channelId: number, place: Place): Promise<void> {
    place.working = true;
    try {
      while (place.pending.size > 0 && !this.closed && this.places.get(channelId) === place) {
        const ids = [...place.pending].slice(0, BATCH);
        const states = ids.map((id) => ({ id, as: this.stateOf(id) }));
        const line = this.options.lines.of(channelId, place.kind, place.settings);
        for (const id of ids) place.pending.delete(id);
        const problem = (await line?.mirror?.(states, this.options.signal)) ?? null;
        if (problem !== null) {
          for (const id of ids) place.pending.add(id);
          throw new Error(`How watches stand could not be left at channel ${channelId}: ${problem}`);
        }
        for (const { id, as } of states) place.left.set(id, as ? JSON.stringify(as) : '');
        place.failures = 0;
      }
    } catch (error) {
      place.failures += 1;
      this.complain(error);
    } finally {
      place.working = false;
    }
    if (place.pending.size === 0) return;
    this.soon(channelId, place, place.failures > 0 ? backoffMs(place.failures, COME_BACK) : GATHER_MS);
  }

  close(): void {
    this.closed = true;
    for (const { timer } of this.places.values()) if (timer) clearTimeout(timer);
  }
}
