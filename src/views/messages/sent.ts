import { DAY_MS } from '@/core/time/units';
import { dayBegins } from '@/core/time/zone-time';
import { SAID_KINDS } from '@/core/messages/said';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDeliveries, type DeliveryFilter, type KeptDelivery } from '@/store/messages/sent';
import { fetchWatch } from '@/store/watches/watches';

/** So many stand there at once; more come as one scrolls. */
export const FIRST_SENT = 50;
const OUTCOMES = ['waiting', 'delivered', 'given-up'] as const;

/** Which messages are asked for. */
export interface SentAsked {
  filter: DeliveryFilter;
  /** The first day and the last, as "2026-11-26". */
  since: string | null;
  until: string | null;
  isNarrowed: boolean;
}

function wholeOf(text: string | null): number | undefined {
  return text !== null && /^\d{1,15}$/.test(text) ? Number(text) : undefined;
}

/** What an address asks for; what it does not say as it should is not asked. */
export function readSentQuery(query: URLSearchParams): SentAsked {
  const channelId = wholeOf(query.get('channel'));
  const watchId = wholeOf(query.get('watch'));
  const state = OUTCOMES.find((one) => one === query.get('outcome'));
  const says = SAID_KINDS.find((one) => one === query.get('says'));
  const dayOf = (name: string) => (dayBegins(query.get(name) ?? '', 'UTC') === null ? null : query.get(name));
  const [since, until] = [dayOf('since'), dayOf('until')];
  const filter = {
    ...(channelId !== undefined && { channelId }),
    ...(watchId !== undefined && { watchId }),
    ...(state && { state }),
    ...(says && { says }),
  };
  return {
    filter,
    since,
    until,
    isNarrowed: Object.keys(filter).length > 0 || since !== null || until !== null,
  };
}

/** The query of an address that asks for it. */
export function sentQuery({ filter, since, until }: Omit<SentAsked, 'isNarrowed'>): string {
  const query = new URLSearchParams();
  const set = (name: string, value: string | number | null | undefined) => {
    if (value !== undefined && value !== null) query.set(name, String(value));
  };
  set('channel', filter.channelId);
  set('watch', filter.watchId);
  set('outcome', filter.state);
  set('says', filter.says);
  set('since', since);
  set('until', until);
  return query.toString();
}

/** "2026-11-26" as people write it. */
function dayInWords(day: string): string {
  const [date, month, year] = ['numeric', 'short', 'numeric'] as const;
  return new Intl.DateTimeFormat('en-GB', { day: date, month, year, timeZone: 'UTC' }).format(
    Date.parse(day),
  );
}

/** What the API is asked for all that the filter lets through. */
function exportQuery(filter: DeliveryFilter, span: { since?: number; until?: number }): string {
  const query = new URLSearchParams(sentQuery({ filter, since: null, until: null }));
  for (const [name, at] of Object.entries(span)) query.set(name, new Date(at).toISOString());
  return query.toString();
}

export interface SentView {
  deliveries: KeptDelivery[];
  /** The one behind which there are more; null where these are all. */
  behind: readonly [at: number, id: number] | null;
  channels: { id: number; name: string }[];
  /** The watch it is narrowed to. */
  watch: { id: number; name: string } | null;
  sentence: string;
  /** The query of the API that asks for all of these. */
  exportQuery: string;
}

const OUTCOME_WORDS = {
  waiting: 'that are on their way',
  delivered: 'that were delivered',
  'given-up': 'that were given up',
};

/** The moments between which days lie, from the first one's beginning to the last one's end. */
function spanOf({ since, until }: SentAsked, zone: string): { since?: number; until?: number } {
  const from = since === null ? null : dayBegins(since, zone);
  const dayAfter = until && new Date(Date.parse(`${until}T00:00:00Z`) + DAY_MS).toISOString().slice(0, 10);
  const to = dayAfter ? dayBegins(dayAfter, zone) : null;
  return { ...(from !== null && { since: from }), ...(to !== null && { until: to }) };
}

/** The first of what was sent. */
export async function fetchSent(db: Db, asked: SentAsked, zone: string): Promise<SentView> {
  const { filter } = asked;
  const span = spanOf(asked, zone);
  const found = await fetchDeliveries(db, { limit: FIRST_SENT + 1, ...span }, filter);
  const deliveries = found.slice(0, FIRST_SENT);
  const last = deliveries.at(-1);
  const channels = (await fetchChannels(db)).map(({ id, name }) => ({ id, name }));
  const watch = filter.watchId === undefined ? null : await fetchWatch(db, filter.watchId);
  const to = channels.find(({ id }) => id === filter.channelId);
  const words = [
    'messages',
    filter.state && OUTCOME_WORDS[filter.state],
    watch && `about ${watch.name}`,
    to && `to ${to.name}`,
    asked.since && `from ${dayInWords(asked.since)}`,
    asked.until && `until ${dayInWords(asked.until)}`,
  ].filter(Boolean);
  return {
    deliveries,
    behind: found.length > FIRST_SENT && last ? [last.createdAt, last.id] : null,
    channels,
    watch: watch && { id: watch.id, name: watch.name },
    exportQuery: exportQuery(filter, span),
    sentence: `${words.length === 1 ? 'all that was sent' : words.join(' ')}.`,
  };
}
