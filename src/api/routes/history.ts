import { object } from 'yup';
import { readMoment } from '@/cases/schemas/common';
import * as cases from '@/cases/watches/history';
import type { KeptEvidence } from '@/store/history/evidence';
import type { KeptFinding } from '@/store/history/findings';
import type { Outage } from '@/store/history/outages';
import type { KeptReport } from '@/store/history/reports';
import { failedLook, figures, finding, outage, report } from '@/api/answers/finding';
import { flagQuery, spanQuery } from '@/api/query';
import { route, type Call, type Listing, type Route } from '@/api/route';
import { evidenceShape, figuresShape, findingShape, outageShape, reportShape } from '@/api/shapes';

const TAG = 'History';

const of = ({ ids, page }: Call) => ({ id: ids.id!, page });
const byOutage: Listing = {
  by: 'time',
  lasts: true,
  keyOf: (item: { id: number; beganAt: number }) => [item.beganAt, item.id] as const,
};
const byMoment: Listing = { by: 'time', keyOf: (item: { at: number }) => [item.at, item.at] as const };

const openQuery = object({
  open: flagQuery('True: only what is not over. False: only what is.'),
});

/** Whether only what is open is asked for; undefined for all. */
export function openOf({ query }: Call): { open?: boolean } {
  return query.open === undefined ? {} : { open: query.open === 'true' };
}

export const historyRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/watches/{id}/findings',
    tag: TAG,
    summary: 'The findings of a watch',
    does: cases.listFindings,
    list: byMoment,
    status: 200,
    answer: 'Findings, the newest first.',
    shape: { each: finding },
    input: of,
    tell: (_, out: KeptFinding[]) => out.map(findingShape),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/outages',
    tag: TAG,
    summary: 'The outages of a watch',
    does: cases.listOutagesOfWatch,
    list: byOutage,
    status: 200,
    answer: 'Outages with their evidence, the newest first.',
    shape: { each: outage },
    input: of,
    tell: (_, out: Outage[]) => out.map(outageShape),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/evidence',
    tag: TAG,
    summary: 'What was seen when looks first failed, or failed in a new way',
    does: cases.listEvidence,
    list: byMoment,
    status: 200,
    answer: 'Failed looks with their evidence, the newest first; secrets and cookies are blanked.',
    shape: { each: failedLook },
    input: of,
    tell: (_, out: KeptEvidence[]) => out.map(evidenceShape),
  }),
  route({
    method: 'GET',
    path: '/watches/{id}/reports',
    tag: TAG,
    summary: 'What a job reported',
    does: cases.listReports,
    list: { by: 'time', keyOf: (item: { at: number; id: number }) => [item.at, item.id] as const },
    status: 200,
    answer: 'Reports with their output, the newest first.',
    shape: { each: report },
    input: of,
    tell: (_, out: KeptReport[]) => out.map(reportShape),
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
    path: '/outages/{id}',
    tag: TAG,
    summary: 'One outage',
    does: cases.getOutage,
    status: 200,
    answer: 'The outage with its evidence.',
    shape: outage,
    still: true,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, out: Outage) => outageShape(out),
  }),
];
