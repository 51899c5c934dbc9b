import type { AroundLine, ChannelKind, Line } from '@/channels/frame/kind';

const UNHEARD: AroundLine = { onOpen: () => undefined, onHeard: () => undefined };

interface Kept {
  key: string;
  line: Line;
}

/** Connections of channels that stay connected, one a channel; one whose settings changed is ended and made anew. */
export class ChannelLines {
  private readonly kept = new Map<number, Kept>();
  private closed = false;

  constructor(
    private readonly onError: (error: unknown) => void,
    private readonly aroundOf: (channelId: number) => AroundLine = () => UNHEARD,
  ) {}

  /** The line of a channel; null where its kind keeps none. `settings` are open. */
  of(channelId: number, kind: ChannelKind<object>, settings: object): Line | null {
    if (!kind.connect || this.closed) return null;
    const key = JSON.stringify([kind.id, settings]);
    const there = this.kept.get(channelId);
    if (there?.key === key) return there.line;
    this.let(channelId);
    const line = kind.connect(settings, this.aroundOf(channelId));
    this.kept.set(channelId, { key, line });
    return line;
  }

  /** Ends the lines of channels that are not there any more, or rest. */
  keepOnly(channelIds: ReadonlySet<number>): void {
    for (const id of this.kept.keys()) if (!channelIds.has(id)) this.let(id);
  }

  private let(channelId: number): void {
    const there = this.kept.get(channelId);
    this.kept.delete(channelId);
    there?.line.close().catch(this.onError);
  }

  async close(): Promise<void> {
    this.closed = true;
    const lines = [...this.kept.values()];
    this.kept.clear();
    await Promise.all(lines.map(({ line }) => line.close().catch(this.onError)));
  }
}
