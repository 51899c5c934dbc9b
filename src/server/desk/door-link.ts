import { EngineAwayError } from '@/engine/link/link';
import type { World } from '@/cases/frame/world';
import type { DoorCall, DoorCalls, FromDesk, ToDesk } from './protocol';

/** Longer than whatever the front door itself gives an answer of the engine. */
const ANSWER_LIMIT_MS = 100_000;

interface Waiting {
  resolve: (answer: never) => void;
  reject: (error: Error) => void;
  timer: NodeJS.Timeout;
}

/** The desk's end of what joins it with the front door, and what use cases are given of it. */
export class DoorLink {
  private readonly waiting = new Map<number, Waiting>();
  private lastId = 0;

  constructor(private readonly send: (line: FromDesk) => void) {}

  /** Takes what the front door says in answer. */
  take(line: ToDesk): void {
    if (line.type === 'answer') this.settle(line.id)?.resolve(line.answer as never);
    else if (line.type === 'problem') this.settle(line.id)?.reject(new Error(line.problem));
  }

  private settle(id: number): Waiting | undefined {
    const waiting = this.waiting.get(id);
    if (waiting) clearTimeout(waiting.timer);
    this.waiting.delete(id);
    return waiting;
  }

  private call<C extends DoorCall>(call: C, ask: DoorCalls[C]['ask']): Promise<DoorCalls[C]['answer']> {
    const id = ++this.lastId;
    return new Promise((resolve, reject) => {
      const late = () => this.settle(id)?.reject(new Error('The front door does not answer.'));
      this.waiting.set(id, { resolve, reject, timer: setTimeout(late, ANSWER_LIMIT_MS) });
      this.send({ type: 'ask', id, call, ask });
    });
  }

  /** What stands at the front door, of all that use cases are given. */
  readonly ports: Pick<World, 'engine' | 'mailEndpoint' | 'previews' | 'arrivals' | 'hub' | 'forgetKeys'> = {
    engine: {
      isConnected: () => this.call('connected', null),
      call: async (call, ask) => {
        const told = await this.call('engine', { call, ask });
        if ('away' in told) throw new EngineAwayError();
        return told.answer as never;
      },
    },
    mailEndpoint: {
      state: () => this.call('mail', null),
      change: async (settings) => void (await this.call('changeMail', settings)),
    },
    previews: { keep: (draft) => this.call('keepPreview', draft) },
    arrivals: {
      expect: () => this.call('expectArrival', null),
      came: (path) => this.call('cameBy', path),
    },
    hub: {
      emit: (event, pageId) => this.call('changed', { event, ...(pageId !== undefined && { pageId }) }),
    },
    forgetKeys: () => this.call('forgetKeys', null),
  };
}
