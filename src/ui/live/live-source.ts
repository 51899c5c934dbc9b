type Hear = (data: unknown) => void;

/** What a server may say. */
const NAMES = ['hello', 'changed', 'deliveries', 'watches', 'notice'] as const;
type Name = (typeof NAMES)[number];

type Hears = Readonly<Partial<Record<Name, Hear>>>;

interface Told {
  name: Name;
  data: unknown;
  /** When it was sent, by the server's clock. */
  at: number;
}

interface Followed {
  events: EventSource;
  followers: Set<Hears>;
  /** What it sent last, oldest first,. */
  told: Told[];
  /** When the newest was sent that is not kept any more. */
  forgotAt: number;
}

/** So many events of a source are kept for who joins later; before them it is only known that there were some. */
const MOST_KEPT = 200;
/** One connection for each source, however many parts of a page follow it: browsers open only a few to one place. */
const sources = new Map<string, Followed>();

function open(source: string): Followed {
  const opened: Followed = {
    events: new EventSource(source),
    followers: new Set(),
    told: [],
    forgotAt: -Infinity,
  };
  for (const name of NAMES)
    opened.events.addEventListener(name, (event: Event) => {
      const message = event as MessageEvent<string>;
      const data = JSON.parse(message.data) as unknown;
      opened.told.push({ name, data, at: Number(message.lastEventId) });
      if (opened.told.length > MOST_KEPT) opened.forgotAt = opened.told.shift()!.at;
      for (const hears of [...opened.followers]) hears[name]?.(data);
    });
  sources.set(source, opened);
  return opened;
}

/**
 * Hears named events of a source until the answer is called. The connection may have stood for long: whoever joins it
 * with something that was read at `since` (by the server's clock) first hears what came after that.
 */
export function follow(source: string, hears: Hears, since = Infinity): () => void {
  const followed = sources.get(source) ?? open(source);
  const own = { ...hears };
  followed.followers.add(own);
  if (followed.forgotAt >= since) own.hello?.({ changedAt: followed.forgotAt });
  for (const { name, data, at } of followed.told) if (at >= since) own[name]?.(data);
  return () => {
    if (!followed.followers.delete(own) || followed.followers.size > 0) return;
    followed.events.close();
    sources.delete(source);
  };
}
