import type { Knex } from 'knex';
import type { LookupFunction } from 'node:net';
import {
  fetchUplinkAddresses,
  fetchOpenUplinkLoss,
  saveUplinkBack,
  saveUplinkLost,
} from '@/store/history/uplink';
import { Uplink } from './uplink';
import type { EngineNews } from '@/engine/link/protocol';
import type { WatchRegistry } from '@/engine/state/watch-registry';

const REGULAR_MS = 30_000;

export interface UplinkMonitorOptions {
  db: Knex;
  registry: WatchRegistry;
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  signal: AbortSignal;
  onNews: (news: EngineNews) => void;
  onMessage: () => void;
  lookAgain: (watchId: number) => void;
  onError: (error: unknown) => void;
}

/** Keeps an eye on this machine's own line: notes its losses, says so once, and has watches looked at again after. */
export class UplinkMonitor {
  private readonly line: Uplink;
  private askedAt = -Infinity;

  constructor(private readonly options: UplinkMonitorOptions) {
    this.line = new Uplink({ ...options, onChange: (change) => this.take(change) });
  }

  get out(): boolean {
    return this.line.out;
  }

  async load(): Promise<void> {
    this.line.set(await fetchUplinkAddresses(this.options.db));
    this.line.resume((await fetchOpenUplinkLoss(this.options.db))?.began ?? null);
  }

  isOut(anew = false): Promise<boolean> {
    return this.line.isOut(anew);
  }

  /** Once a second: asks now and then by itself, and often while the line is lost. */
  tick(): void {
    const now = this.options.monotonic();
    if (!this.line.out && now - this.askedAt < REGULAR_MS) return;
    this.askedAt = now;
    void this.line.isOut().catch(this.options.onError);
  }

  private async take({ out, began, at }: { out: boolean; began: number; at: number }): Promise<void> {
    const { db, registry, onNews, onMessage, lookAgain } = this.options;
    if (out) await saveUplinkLost(db, began);
    else {
      await saveUplinkBack(db, at);
      // What should have arrived in between could not; nobody is blamed for it.
      for (const { watch, rules } of registry.all()) {
        if (rules.type === 'checkin') registry.apply(watch.id, { type: 'gap', from: began, to: at });
        else if (!watch.paused) lookAgain(watch.id);
      }
    }
    onNews({ watches: [], deliveries: true });
    onMessage();
  }
}
