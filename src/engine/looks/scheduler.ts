/** One look to be run: what it belongs to, and whose share of concurrent looks it uses. */
interface Entry {
  id: number;
  host: string;
  /** By the monotonic clock. */
  at: number;
}

export interface SchedulerOptions {
  /** Milliseconds since 1970, by which due times are given. */
  now: () => number;
  /** Milliseconds of a clock nobody sets, by which they are waited for. */
  monotonic: () => number;
  setTimer: (run: () => void, ms: number) => unknown;
  clearTimer: (timer: unknown) => void;
  mostInFlight: number;
  mostPerHost: number;
  /** Runs one look; must not reject. */
  run: (id: number) => Promise<void>;
}

/** Node's timers cannot wait longer than this. */
const LONGEST_TIMER_MS = 2 ** 31 - 1;

/**
 * Runs looks when they are due: at most so many in flight, at most so many towards one host, never two at
 * once for one watch. Due times are kept in a binary heap, so ten thousand watches cost a few comparisons each.
 */
export class Scheduler {
  private heap: Entry[] = [];
  private readonly due = new Map<number, Entry>();
  /** Looks that are due, by host and in the order they fell due; hosts take turns. */
  private readonly ready = new Map<string, Map<number, Entry>>();
  private readonly readyHost = new Map<number, string>();
  private readonly running = new Map<number, { host: string; done: Promise<void> }>();
  private readonly perHost = new Map<string, number>();
  private timer: unknown = null;
  private timerAt = Infinity;
  private closed = false;

  constructor(private readonly options: SchedulerOptions) {}

  get inFlight(): number {
    return this.running.size;
  }

  /**
   * Sets when a watch is looked at next, in place of what was set before. From here on the time left counts, whatever
   * the wall clock does; where it is set, all is to be scheduled anew.
   */
  schedule(id: number, host: string, at: number): void {
    if (this.closed) return;
    this.dropReady(id);
    const { now, monotonic } = this.options;
    const entry = { id, host, at: monotonic() + at - now() };
    this.due.set(id, entry);
    this.push(entry);
    this.arm();
  }

  remove(id: number): void {
    this.due.delete(id);
    this.dropReady(id);
  }

  /** Runs a look at once, or waits for the one that is under way. */
  runNow(id: number, host: string): Promise<void> {
    const running = this.running.get(id);
    if (running) return running.done;
    this.remove(id);
    return this.start({ id, host, at: this.options.monotonic() });
  }

  /** Takes no more work and waits for what is in flight. Can be called twice. */
  async close(): Promise<void> {
    this.closed = true;
    if (this.timer !== null) this.options.clearTimer(this.timer);
    this.timer = null;
    this.heap = [];
    this.ready.clear();
    this.readyHost.clear();
    this.due.clear();
    await Promise.allSettled([...this.running.values()].map((running) => running.done));
  }

  private arm(): void {
    if (this.closed) return;
    const first = this.first();
    if (!first || first.at >= this.timerAt) return;
    if (this.timer !== null) this.options.clearTimer(this.timer);
    this.timerAt = first.at;
    const wait = Math.min(LONGEST_TIMER_MS, Math.max(0, first.at - this.options.monotonic()));
    this.timer = this.options.setTimer(() => {
      this.timer = null;
      this.timerAt = Infinity;
      this.collect();
    }, wait);
  }

  private collect(): void {
    const now = this.options.monotonic();
    for (let first = this.first(); first && first.at <= now; first = this.first()) {
      this.pop();
      this.due.delete(first.id);
      this.addReady(first);
    }
    this.startReady();
    this.arm();
  }

  private addReady(entry: Entry): void {
    const looks = this.ready.get(entry.host) ?? new Map<number, Entry>();
    looks.set(entry.id, entry);
    this.ready.set(entry.host, looks);
    this.readyHost.set(entry.id, entry.host);
  }

  private dropReady(id: number): void {
    const host = this.readyHost.get(id);
    if (host === undefined) return;
    this.readyHost.delete(id);
    const looks = this.ready.get(host)!;
    looks.delete(id);
    if (looks.size === 0) this.ready.delete(host);
  }

  /** Starts what may start. The cost follows what is in flight, not how much waits. */
  private startReady(): void {
    let skipped = 0;
    while (this.running.size < this.options.mostInFlight && skipped < this.ready.size) {
      const next = this.ready.entries().next().value;
      if (!next) return;
      const [host, looks] = next;
      // To the end of the row: every host has its turn.
      this.ready.delete(host);
      this.ready.set(host, looks);
      const entry = this.firstStartable(host, looks);
      if (!entry) {
        skipped += 1;
        continue;
      }
      skipped = 0;
      this.dropReady(entry.id);
      void this.start(entry);
    }
  }

  private firstStartable(host: string, looks: Map<number, Entry>): Entry | undefined {
    if ((this.perHost.get(host) ?? 0) >= this.options.mostPerHost) return undefined;
    for (const entry of looks.values()) if (!this.running.has(entry.id)) return entry;
    return undefined;
  }

  private start(entry: Entry): Promise<void> {
    const { id, host } = entry;
    this.perHost.set(host, (this.perHost.get(host) ?? 0) + 1);
    const done = this.options.run(id).finally(() => {
      this.running.delete(id);
      const left = (this.perHost.get(host) ?? 1) - 1;
      if (left > 0) this.perHost.set(host, left);
      else this.perHost.delete(host);
      if (!this.closed) this.startReady();
    });
    this.running.set(id, { host, done });
    return done;
  }

  /** The earliest entry that still stands; those that were replaced are dropped on the way. */
  private first(): Entry | undefined {
    while (this.heap.length > 0 && this.due.get(this.heap[0]!.id) !== this.heap[0]) this.pop();
    return this.heap[0];
  }

  private push(entry: Entry): void {
    const { heap } = this;
    let i = heap.push(entry) - 1;
    while (i > 0) {
      const parent = (i - 1) >> 1;
      if (heap[parent]!.at <= entry.at) break;
      heap[i] = heap[parent]!;
      i = parent;
    }
    heap[i] = entry;
  }

  private pop(): void {
    const { heap } = this;
    const last = heap.pop();
    if (!last || heap.length === 0) return;
    let i = 0;
    for (;;) {
      let child = 2 * i + 1;
      if (child >= heap.length) break;
      if (child + 1 < heap.length && heap[child + 1]!.at < heap[child]!.at) child += 1;
      if (heap[child]!.at >= last.at) break;
      heap[i] = heap[child]!;
      i = child;
    }
    heap[i] = last;
  }
}
