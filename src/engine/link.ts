import { connect, type Socket } from 'node:net';
import { attachLines, type EngineCall, type EngineCalls, type EngineNews, type Line } from './protocol';

const CALL_TIMEOUT_MS = 90_000;

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
    private readonly path: string,
    private readonly onNews: (news: EngineNews) => void,
    private readonly onLost: () => void,
  ) {}

  get connected(): boolean {
    return this.send !== null;
  }

  /** Resolves to whether an engine answered. */
  connect(): Promise<boolean> {
    return new Promise((resolve) => {
      const socket = connect(this.path);
      socket.once('error', () => resolve(false));
      socket.once('connect', () => {
        this.socket = socket;
        this.send = attachLines(socket, (line) => this.take(line));
        socket.on('error', () => socket.destroy());
        socket.once('close', () => this.lost(socket));
        resolve(true);
      });
    });
  }

  call<C extends EngineCall>(call: C, ask: EngineCalls[C]['ask']): Promise<EngineCalls[C]['answer']> {
    const { send } = this;
    if (!send) return Promise.reject(new EngineAwayError());
    const id = ++this.lastId;
    return new Promise((resolve, reject) => {
      const timer = setTimeout(() => this.settle(id)?.reject(new EngineAwayError()), CALL_TIMEOUT_MS);
      timer.unref();
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
