import { connect, type Socket } from 'node:net';
import { attachLines, type EngineCall, type EngineCalls, type EngineNews, type Line } from './protocol';

/** So long an answer may take. What only tells the engine something is short; looks and tests take their time. */
const CALL_LIMIT_MS: Record<EngineCall, number> = {
  ping: 5_000,
  stop: 5_000,
  inbox: 10_000,
  channelsChanged: 10_000,
  replyInChannel: 40_000,
  routesChanged: 10_000,
  watchesChanged: 30_000,
  windowsChanged: 30_000,
  lettersChanged: 30_000,
  proofChanged: 30_000,
  uplinkChanged: 30_000,
  testChannel: 65_000,
  findForChannel: 60_000,
  offer: 60_000,
  pageWords: 60_000,
  lookNow: 90_000,
  tryLook: 90_000,
};
const CONNECT_LIMIT_MS = 2_000;

export class EngineAwayError extends Error {
  override name = 'EngineAwayError';

  constructor() {
    super(
      'The engine is not running at the moment. It is being started again; try once more in a few seconds.',
    );
  }
}

interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
  timer: NodeJS.Timeout;
}

/** The front door's end of the engine's own interface. Connects when told to; calls fail while it is away. */
export class EngineLink {
  private socket: Socket | null = null;
  private send: ((line: Line) => void) | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private lastId = 0;

  constructor(
    /** Where the engine listens; null while no engine has made a place for it. */
    private readonly findPath: () => string | null,
    private readonly onNews: (news: EngineNews) => void,
    private readonly onLost: () => void,
  ) {}

  get connected(): boolean {
    return this.send !== null;
  }

  isConnected(): boolean {
    return this.connected;
  }

  /** Resolves to whether an engine could be reached. */
  connect(): Promise<boolean> {
    const path = this.findPath();
    if (path === null) return Promise.resolve(false);
    return new Promise((resolve) => {
      const socket = connect(path);
      const limit = setTimeout(() => socket.destroy(new Error('no answer')), CONNECT_LIMIT_MS);
      socket.once('error', () => {
        clearTimeout(limit);
        resolve(false);
      });
      socket.once('connect', () => {
        clearTimeout(limit);
        this.socket = socket;
        this.send = attachLines(socket, (line) => this.take(line));
        socket.on('error', () => socket.destroy());
        socket.once('close', () => this.lost(socket));
        resolve(true);
      });
    });
  }

  /** Asks the engine; rejects where no answer comes in time, however alive its connection looks. */
  call<C extends EngineCall>(
    call: C,
    ask: EngineCalls[C]['ask'],
    limitMs: number = CALL_LIMIT_MS[call],
  ): Promise<EngineCalls[C]['answer']> {
    const { send } = this;
    if (!send) return Promise.reject(new EngineAwayError());
    const id = ++this.lastId;
    return new Promise((resolve, reject) => {
      const timer = setTimeout(() => this.settle(id)?.reject(new EngineAwayError()), limitMs);
      this.waiting.set(id, { resolve, reject, timer });
      send({ id, call, ask });
    });
  }

  close(): void {
    this.socket?.destroy();
  }

  private settle(id: number): Waiting | undefined {
    const waiting = this.waiting.get(id);
    if (waiting) clearTimeout(waiting.timer);
    this.waiting.delete(id);
    return waiting;
  }

  private take(line: Line): void {
    if ('news' in line) this.onNews(line.news);
    else if ('answer' in line) this.settle(line.id)?.resolve(line.answer as never);
    else if ('problem' in line) this.settle(line.id)?.reject(new Error(line.problem));
  }

  private lost(socket: Socket): void {
    if (this.socket !== socket) return;
    this.socket = null;
    this.send = null;
    for (const id of [...this.waiting.keys()]) this.settle(id)?.reject(new EngineAwayError());
    this.onLost();
  }
}
