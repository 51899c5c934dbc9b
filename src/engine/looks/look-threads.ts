import { Worker } from 'node:worker_threads';
import type { Evidence, Finding } from '@/core/causes/finding';
import type { LookAnswer, LookAsk, LookedAt, LookThreadData } from './look-thread';

export interface LookThreadsOptions {
  /** The file each thread runs. */
  script: string;
  threads: number;
  data: LookThreadData;
  now: () => number;
  /** Looks on this thread: for what needs the engine itself, and where threads cannot be had. */
  here: (watch: LookedAt, before?: Evidence) => Promise<Finding>;
  /** Whether a watch can be looked at only here. */
  onlyHere: (watch: LookedAt) => boolean;
  onError: (error: unknown) => void;
  /** How often a thread is asked for a sign of life. */
  glanceMs?: number;
}

const GLANCE_MS = 5_000;
/** A thread that owes a sign of life at so many glances in a row hangs: nothing it does takes nearly as long at a stretch. */
const MOST_OWED = 6;

interface Waiting {
  at: number;
  watch: LookedAt;
  before?: Evidence;
  resolve: (finding: Finding) => void;
}

/** One thread: what it was told of, and what it has under way. */
class Thread {
  private readonly told = new Map<number, LookedAt['config']>();
  private readonly waiting = new Map<number, Waiting>();
  private readonly worker: Worker;
  private ask: LookAsk | null = null;
  private lastLook = 0;
  /** At how many glances in a row it owed a sign of life. */
  private owed = 0;
  /** It has said that it is ready. */
  ready = false;
  gone = false;

  constructor(
    private readonly options: LookThreadsOptions,
    private readonly onGone: (thread: Thread) => void,
  ) {
    this.worker = new Worker(options.script, { workerData: options.data });
    this.worker.on('message', (answer: LookAnswer) => this.take(answer));
    this.worker.on('error', (error) => this.lose(error));
    this.worker.on('exit', (code) => this.lose(new Error(`it ended with ${code}`)));
  }

  look(watch: LookedAt, before?: Evidence): Promise<Finding> {
    const ask = this.nextAsk();
    if (this.told.get(watch.id) !== watch.config) {
      this.told.set(watch.id, watch.config);
      ask.watches.push({ id: watch.id, kind: watch.kind, config: watch.config });
    }
    const look = (this.lastLook += 1);
    ask.looks.push({ look, id: watch.id, ...(before && { before }) });
    const at = this.options.now();
    return new Promise((resolve) => this.waiting.set(look, { at, watch, before, resolve }));
  }

  forget(id: number): void {
    if (this.told.delete(id)) this.nextAsk().gone.push(id);
  }

  /** Asks for a sign of life, and gives a thread up that has given none for long. */
  glance(): void {
    if (!this.ready || this.gone) return;
    if (this.owed >= MOST_OWED) {
      void this.worker.terminate();
      this.lose(new Error('it gives no sign of life'));
      return;
    }
    this.owed += 1;
    this.nextAsk();
  }

  async close(): Promise<void> {
    this.gone = true;
    await this.worker.terminate();
  }

  /** What is asked in one turn goes as one message. */
  private nextAsk(): LookAsk {
    if (!this.ask) {
      this.ask = { watches: [], gone: [], looks: [] };
      queueMicrotask(() => {
        if (this.ask && !this.gone) this.worker.postMessage(this.ask);
        this.ask = null;
      });
    }
    return this.ask;
  }

  private take(answer: LookAnswer): void {
    this.ready = true;
    this.owed = 0;
    for (const { look, finding } of answer) {
      this.waiting.get(look)?.resolve(finding);
      this.waiting.delete(look);
    }
  }

  /** Looks that were under way learnt nothing; those it never began are carried out here. */
  private lose(error: Error): void {
    if (this.gone) return;
    this.gone = true;
    const { here, now, onError } = this.options;
    onError(new Error(`A thread that carries out looks is gone: ${error.message}`));
    const detail = { reason: 'the thread that carried it out is gone' };
    for (const { at, watch, before, resolve } of this.waiting.values()) {
      if (this.ready) resolve({ at, verdict: 'failed', ms: now() - at, cause: 'look.broken', detail });
      else void here(watch, before).then(resolve);
    }
    this.waiting.clear();
    this.onGone(this);
  }
}

/** Spreads looks over threads, each watch always on the same. A thread that is lost is replaced by a new one. */
export class LookThreads {
  private readonly threads: (Thread | null)[];
  /** Threads end before they are ready: from here on looks are carried out on this one. */
  private unusable = false;
  private glances: NodeJS.Timeout | null = null;

  constructor(private readonly options: LookThreadsOptions) {
    this.threads = Array.from({ length: options.threads }, () => null);
  }

  look(watch: LookedAt, before?: Evidence): Promise<Finding> {
    if (this.unusable || this.threads.length === 0 || this.options.onlyHere(watch)) {
      return this.options.here(watch, before);
    }
    const thread = this.threadAt(watch.id % this.threads.length);
    return thread.look(watch, before);
  }

  /** Starts the threads before they have anything to do: they take a moment to load. */
  begin(): void {
    for (const place of this.threads.keys()) this.threadAt(place);
    this.glances ??= setInterval(() => {
      for (const thread of this.threads) thread?.glance();
    }, this.options.glanceMs ?? GLANCE_MS).unref();
  }

  private threadAt(place: number): Thread {
    return (this.threads[place] ??= new Thread(this.options, (lost) => {
      this.threads[place] = null;
      if (!lost.ready) this.unusable = true;
    }));
  }

  /** Lets go of a watch that is no more. */
  forget(id: number): void {
    for (const thread of this.threads) thread?.forget(id);
  }

  async close(): Promise<void> {
    if (this.glances) clearInterval(this.glances);
    this.glances = null;
    await Promise.all(this.threads.map(async (thread) => thread?.close()));
  }
}
