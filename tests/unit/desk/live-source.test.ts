import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { follow } from '@/ui/live/live-source';

class Source extends EventTarget {
  static readonly opened: Source[] = [];
  closed = false;

  constructor(readonly url: string) {
    super();
    Source.opened.push(this);
  }

  say(name: string, at: number, data: unknown): void {
    this.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data), lastEventId: String(at) }));
  }

  close(): void {
    this.closed = true;
  }
}

describe('the source of live events', () => {
  const leaves: (() => void)[] = [];
  const join = (hears: Parameters<typeof follow>[1], since?: number) => {
    const leave = follow('/live', hears, since);
    leaves.push(leave);
    return leave;
  };
  beforeEach(() => vi.stubGlobal('EventSource', Source));
  afterEach(() => {
    for (const leave of leaves.splice(0)) leave();
    Source.opened.length = 0;
    vi.unstubAllGlobals();
  });

  it('is one connection for all who follow it, closed behind the last of them', () => {
    const heard: unknown[] = [];
    const first = join({ notice: (data) => heard.push(['first', data]) });
    const second = join({ notice: (data) => heard.push(['second', data]) });
    Source.opened[0]!.say('notice', 5, { id: 'a' });
    first();
    Source.opened[0]!.say('notice', 6, { id: 'b' });
    expect(heard).toEqual([
      ['first', { id: 'a' }],
      ['second', { id: 'a' }],
      ['second', { id: 'b' }],
    ]);
    expect(Source.opened[0]!.closed).toBe(false);
    second();
    expect(Source.opened[0]!.closed).toBe(true);
    leaves.length = 0;
    join({});
    expect(Source.opened).toHaveLength(2);
  });

  it('tells who joins an open connection what came since what it shows was read', () => {
    join({ notice: () => {} });
    Source.opened[0]!.say('hello', 100, { changedAt: 90 });
    Source.opened[0]!.say('watches', 199, [{ id: 6 }]);
    Source.opened[0]!.say('watches', 200, [{ id: 7 }]);
    Source.opened[0]!.say('deliveries', 230, {});
    const heard: unknown[] = [];
    join({ hello: () => heard.push('hello'), watches: (data) => heard.push(data) }, 200);
    expect(heard).toEqual([[{ id: 7 }]]);
  });

  it('tells nothing old to who did not say since when', () => {
    join({});
    Source.opened[0]!.say('notice', 200, { id: 'a' });
    const heard: unknown[] = [];
    join({ notice: (data) => heard.push(data) });
    expect(heard).toEqual([]);
  });

  it('keeps the last two hundred, and says of older ones that there were some', () => {
    join({});
    for (let at = 1; at <= 300; at += 1) Source.opened[0]!.say('watches', at, [{ id: at }]);
    const told = (since: number) => {
      const heard: unknown[] = [];
      join({ hello: (data) => heard.push(data), watches: (data) => heard.push(data) }, since);
      return heard;
    };
    expect(told(101)).toHaveLength(200);
    expect(told(100).slice(0, 2)).toEqual([{ changedAt: 100 }, [{ id: 101 }]]);
  });
});
