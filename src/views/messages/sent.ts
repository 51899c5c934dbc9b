import { SAID_KINDS } from '@/core/messages/said';
import type { Db } from '@/store/db/connection';
import { fetchChannels } from '@/store/messages/channels';
import { fetchDeliveries, type DeliveryFilter, type KeptDelivery } from '@/store/messages/sent';
import { fetchWatch } from '@/store/watches/watches';

/** So many stand on one page. */
const MOST_SHOWN = 50;
const OUTCOMES = ['waiting', 'delivered', 'given-up'] as const;

/** Which messages are asked for, and behind which one. */
export interface SentAsked {
  filter: DeliveryFilter;
  after: readonly [at: number, id: number] | null;
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
  const [, at, id] = /^(\d{1,15})\.(\d{1,15})$/.exec(query.get('after') ?? '') ?? [];
  const filter = {
    ...(channelId !== undefined && { channelId }),
    ...(watchId !== undefined && { watchId }),
    ...(state && { state }),
    ...(says && { says }),
  };
  return {
    filter,
    after: at === undefined || id === undefined ? null : [Number(at), Number(id)],
    isNarrowed: Object.keys(filter).length > 0 || at !== undefined,
  };
}

/** The query of an address that asks for it. */
export function sentQuery({ filter, after }: Pick<SentAsked, 'filter' | 'after'>): string {
  const query = new URLSearchParams();
  const set = (name: string, value: string | number | undefined) => {
    if (value !== undefined) query.set(name, String(value));
  };
  set('channel', filter.channelId);
  set('watch', filter.watchId);
  set('outcome', filter.state);
  set('says', filter.says);
  if (after) query.set('after', after.join('.'));
  return query.toString();
}

export interface SentView {
  deliveries: KeptDelivery[];
  /** Behind which one the next page begins; null on the last. */
  older: readonly [at: number, id: number] | null;
  channels: { id: number; name: string }[];
  /** The watch it is narrowed to. */
  watch: { id: number; name: string } | null;
  sentence: string;
}

const OUTCOME_WORDS = {
  waiting: 'that are on their way',
  delivered: 'that were delivered',
  'given-up': 'that were given up',
};

/** One page of what was sent. */
export async function fetchSent(db: Db, { filter, after }: SentAsked): Promise<SentView> {
  const found = await fetchDeliveries(db, { limit: MOST_SHOWN + 1, ...(after && { after }) }, filter);
  const deliveries = found.slice(0, MOST_SHOWN);
  const last = deliveries.at(-1);
  const channels = (await fetchChannels(db)).map(({ id, name }) => ({ id, name }));
  const watch = filter.watchId === undefined ? null : await fetchWatch(db, filter.watchId);
  const to = channels.find(({ id }) => id === filter.channelId);
  const words = [
    'messages',
    filter.state && OUTCOME_WORDS[filter.state],
    watch && `about ${watch.name}`,
    to && `to ${to.name}`,
  ].filter(Boolean);
  return {
    deliveries,
    older: found.length > MOST_SHOWN && last ? [last.createdAt, last.id] : null,
    channels,
    watch: watch && { id: watch.id, name: watch.name },
    sentence: `${words.length === 1 ? 'all that was sent' : words.join(' ')}.`,
  };
}
