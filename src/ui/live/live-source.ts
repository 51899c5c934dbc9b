type Hear = (data: unknown) => void;

interface Followed {
  events: EventSource;
  followers: number;
}

/** One connection for each source, however many parts of a page follow it: browsers open only a few to one place. */
const sources = new Map<string, Followed>();

/** Hears named events of a source until the answer is called. */
export function follow(source: string, hears: Readonly<Record<string, Hear>>): () => void {
  const followed = sources.get(source) ?? { events: new EventSource(source), followers: 0 };
  sources.set(source, followed);
  followed.followers += 1;
  const taken = Object.entries(hears).map(([name, hear]) => {
    const listener = (event: Event) => hear(JSON.parse((event as MessageEvent<string>).data));
    followed.events.addEventListener(name, listener);
    return () => followed.events.removeEventListener(name, listener);
  });
  return () => {
    for (const off of taken) off();
    followed.followers -= 1;
    if (followed.followers > 0) return;
    followed.events.close();
    sources.delete(source);
  };
}
