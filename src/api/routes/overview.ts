import { string } from 'yup';
import { getOverview, listLines } from '@/cases/watches/lines';
import { WATCH_SORTS, type WatchSort } from '@/core/settings/watch-order';
import type { OverviewCard } from '@/views/overview/cards';
import { RANGES, type DeskLine, type RangeName } from '@/views/overview/lines';
import type { OverviewHead } from '@/views/overview/overview';
import { deskLine, overviewHead } from '@/api/answers/lines';
import { flagQuery } from '@/api/query';
import { route, type Route } from '@/api/route';
import { filterOf, filterQuery } from './watches';

const TAG = 'Watches';
const RANGE_NAMES = Object.keys(RANGES);
/** So many are asked for by their ids at once. */
const MOST_IDS = 100;

const idsOf = (text: unknown): number[] | undefined =>
  typeof text === 'string' ? text.split(',').map(Number) : undefined;

const idsQuery = string()
  .optional()
  .test(
    'ids',
    ({ value }) =>
      `Expected at most ${MOST_IDS} ids of watches with commas between them, got "${String(value).slice(0, 80)}".`,
    (value) =>
      value === undefined ||
      (/^[1-9]\d{0,14}(,[1-9]\d{0,14})*$/.test(value) && idsOf(value)!.length <= MOST_IDS),
  )
  .meta({ description: `Just these, in this order, as far as they are there; at most ${MOST_IDS}.` });

const card = ({ since, ladder, ...rest }: OverviewCard) => ({ ...rest, sinceAt: since, ladder: [...ladder] });

/** What an open desk asks for when something has changed. */
export const overviewRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/overview',
    tag: TAG,
    summary: 'What leads the desk: how things are, and what wants a hand',
    description:
      'In sentences, with the troubles that belong together put together. The lines below it are at /lines.',
    does: getOverview,
    status: 200,
    answer: 'How things are.',
    shape: overviewHead,
    input: () => ({}),
    tell: (_, { now, all, cards, together, own, lineLostSince, ...rest }: OverviewHead) => ({
      ...rest,
      readAt: now,
      watches: all,
      cards: cards.map(card),
      together: together.map((group) => ({ ...group, cards: group.cards.map(card) })),
      own: own.map(({ began, ...one }) => ({ ...one, beganAt: began })),
      lineLostAt: lineLostSince,
    }),
  }),
  route({
    method: 'GET',
    path: '/lines',
    tag: TAG,
    summary: 'Watches as the desk shows them',
    description: 'Each with its line over a span of time, as it is drawn and in words, and its uptime.',
    does: listLines,
    query: filterQuery.shape({
      range: string()
        .oneOf(RANGE_NAMES, `Expected one of ${RANGE_NAMES.join(', ')}.`)
        .default('24h')
        .meta({ description: 'How far back lines and figures go.' }),
      worstFirst: flagQuery('Those that were in trouble for longest come first, whatever their section.'),
      ids: idsQuery,
      sort: string()
        .oneOf([...WATCH_SORTS], `Expected one of ${WATCH_SORTS.join(', ')}.`)
        .optional()
        .meta({ description: 'By what they are in order; by section where nothing is said.' }),
    }),
    list: { by: 'place' },
    status: 200,
    answer: 'Lines, in the order of the desk.',
    shape: { each: deskLine },
    input: (call) => ({
      ...{ filter: filterOf(call), page: call.page, ids: idsOf(call.query.ids) },
      sort: call.query.sort as WatchSort | undefined,
      ...{ range: call.query.range as RangeName, worstFirst: call.query.worstFirst === 'true' },
    }),
    tell: (_, lines: DeskLine[]) =>
      lines.map(({ line, ...rest }) => ({
        ...rest,
        line: line.map(({ kind, from, to }) => ({ kind, from, until: to })),
      })),
  }),
];
