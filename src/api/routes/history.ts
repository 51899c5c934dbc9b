import { number, object, type AnySchema } from 'yup';
import type { UseCase } from '@/cases/frame/use-case';
import { leaveOutSchema } from '@/cases/schemas/watch-history';
import { readMoment } from '@/cases/schemas/common';
import * as cases from '@/cases/watches/history';
import { RUN_FILTERS, type Run, type RunFilter } from '@/core/reports/runs';
import type { ListPage } from '@/store/db/list-page';
import type { Outage } from '@/store/history/outages';
import { failedLook, figures, finding, outage, report, run } from '@/api/answers/finding';
import { outageLine } from '@/api/answers/lines';
import type { OutageLine } from '@/views/outages/outage-lines';
import { flagQuery, oneOfQuery, spanQuery } from '@/api/query';
import { byTime, route, type Call, type Listing, type Route } from '@/api/route';
import { actRoute, getRoute, type Resource } from './resource';
import { evidenceShape, figuresShape, findingShape, outageShape, reportShape, runShape } from '@/api/shapes';

const TAG = 'History';

const of = ({ ids, page }: Call) => ({ id: ids.id!, page });
const byOutage: Listing = {
  by: 'time',
  lasts: true,
  keyOf: (item: { id: number; beganAt: number }) => [item.beganAt, item.id] as const,
};
const byMoment = byTime((item: { at: number }) => [item.at, item.at]);

const openQuery = object({
  open: flagQuery('True: only what is not over. False: only what is.'),
});

/** Whether only what is open is asked for; undefined for all. */
export function openOf({ query }: Call): { open?: boolean } {
  return query.open === undefined ? {} : { open: query.open === 'true' };
}

/** A list of what was with one watch, the newest first. */
function ofWatch<T>(
  name: string,
  spec: {
    does: UseCase<{ id: number; page: ListPage }, T[]>;
    summary: string;
    answer: string;
    list: Listing;
    shape: AnySchema;
    told: (one: T) => unknown;
  },
): Route {
  const { shape, told, ...rest } = spec;
  return route({
    ...rest,
    method: 'GET',
    path: `/watches/{id}/${name}`,
    tag: TAG,
    status: 200,
    shape: { each: shape },
    input: of,
    tell: (_, out) => out.map(told),
  });
}

const OUTAGE: Resource<Outage> = {
  path: '/outages',
  tag: TAG,
  what: 'outage',
  shape: outage,
  still: true,
  tell: (_, one) => outageShape(one),
};

export const historyRoutes: Route[] = [
  ofWatch('findings', {
    does: cases.listFindings,
    summary: 'The findings of a watch',
    answer: 'Findings, the newest first.',
    list: byMoment,
    shape: finding,
    told: findingShape,
  }),
  ofWatch('outages', {
    does: cases.listOutagesOfWatch,
    summary: 'The outages of a watch',
    answer: 'Outages with their evidence, the newest first.',
    list: byOutage,
    shape: outage,
    told: outageShape,
  }),
  ofWatch('evidence', {
    does: cases.listEvidence,
    summary: 'What was seen when looks first failed, or failed in a new way',
    answer: 'Failed looks with their evidence, the newest first; secrets and cookies are blanked.',
    list: byMoment,
    shape: failedLook,
    told: evidenceShape,
  }),
  ofWatch('reports', {
    does: cases.listReports,
    summary: 'What a job reported',
    answer: 'Reports with their output, the newest first.',
    list: byTime((item: { at: number; id: number }) => [item.at, item.id]),
    shape: report,
    told: reportShape,
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/runs',
    tag: TAG,
    summary: 'The runs of a job',
    description: 'Put together from its reports, by when they were heard of first.',
    does: cases.listRuns,
    query: object({ only: oneOfQuery(RUN_FILTERS, 'Only runs that came to this, or began beside another.') }),
    list: byTime((item: { heardAt: number; firstId: number }) => [item.heardAt, item.firstId]),
    status: 200,
    answer: 'Runs with their output, the newest first; none for a probe.',
    shape: { each: run },
    input: ({ query, ...call }) => ({ ...of(call as Call), only: query.only as RunFilter | undefined }),
    tell: (_, runs: Run[]) => runs.map(runShape),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/figures',
    tag: TAG,
    summary: 'Availability and response times over any span',
    does: cases.getFigures,
    query: object(spanQuery),
    status: 200,
    answer: 'The figures, with the span they stand on: time before the watch was made does not count.',
    shape: figures,
    input: ({ ids, query }) => ({
      id: ids.id!,
      ...(query.from !== undefined && { from: readMoment(query.from)! }),
      ...(query.until !== undefined && { until: readMoment(query.until)! }),
    }),
    tell: (_, out) => figuresShape(out),
  }),
  route({
    method: 'GET',
    path: '/outages',
    tag: TAG,
    summary: 'The outages of all watches',
    does: cases.listOutages,
    query: openQuery,
    list: byOutage,
    status: 200,
    answer: 'Outages with their evidence, the newest first.',
    shape: { each: outage },
    input: (call) => ({ page: call.page, ...openOf(call) }),
    tell: (_, out: Outage[]) => out.map(outageShape),
  }),
  route({
    method: 'GET',
    path: '/outage-lines',
    tag: TAG,
    summary: 'Outages as the desk shows them',
    description: 'Each with who was told, who has it, and what the public was told of it.',
    does: cases.listOutageLines,
    query: openQuery.shape({
      watch: number()
        .integer('Expected the id of a watch.')
        .typeError('Expected the id of a watch.')
        .optional()
        .meta({ description: 'Only those of this watch.' }),
    }),
    list: byOutage,
    status: 200,
    answer: 'Outages, the newest first.',
    shape: { each: outageLine },
    refusals: ['not.found'],
    input: (call) => ({ page: call.page, watchId: call.query.watch as number | undefined, ...openOf(call) }),
    tell: (_, lines: OutageLine[]) =>
      lines.map(({ began, noticed, ended, ...rest }) => ({
        ...rest,
        beganAt: began,
        noticedAt: noticed,
        endedAt: ended,
      })),
  }),
  getRoute(OUTAGE, { does: cases.getOutage, answer: 'The outage with its evidence.' }),
  actRoute(TAG, '/outages/{id}/leave-out', {
    summary: 'Leave an outage out of all figures',
    description: 'Its time counts neither as down nor as observed. The line shows it all the same.',
    answer: 'The outage.',
    does: cases.leaveOutageOut,
    body: leaveOutSchema,
    example: { reason: 'A storm took the whole island off the net.' },
    shape: outage,
    input: ({ ids, body }) => ({ id: ids.id!, body }),
    tell: (_, one) => outageShape(one),
  }),
  actRoute(TAG, '/outages/{id}/count', {
    summary: 'Let an outage count in figures again',
    answer: 'The outage.',
    does: cases.countOutage,
    shape: outage,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, one) => outageShape(one),
  }),
];
