import * as cases from '@/cases/messages/drills';
import { drill, drillPlan, drillReport } from '@/api/answers/routes';
import { byTime, route, type Route } from '@/api/route';
import { asDrill } from '@/core/messages/drill';
import { composeSaid } from '@/core/messages/said';
import { ruleInWords } from '@/core/telling/rule-words';
import type { DrillSaying } from '@/core/telling/ahead/drill';
import type { KeptDrill } from '@/store/messages/drills';
import * as rest from './resource';

const TAG = 'Messages';
const seconds = (ms: number) => Math.round(ms / 1000);

function drillShape({ began, ended, ...kept }: KeptDrill) {
  return { ...kept, beganAt: began, endedAt: ended };
}

function reportShape({ deliveries, ...kept }: cases.DrillReport) {
  return {
    ...drillShape(kept),
    deliveries: deliveries.map(({ said, arrived, rule, ...one }) => ({
      ...one,
      saidAt: said,
      arrivedAt: arrived,
      tookSeconds: arrived === null ? null : (arrived - said) / 1000,
      why: rule === null ? null : ruleInWords(rule),
    })),
  };
}

/** What stands above a message that is not written yet. */
function titleOf({ event, watch }: DrillSaying): string {
  return asDrill(composeSaid(event, { watchName: watch ?? '', link: '', zone: 'UTC' })).title;
}

function planShape({ says, notes, channels }: cases.ForetoldDrill) {
  return {
    says: says.map((one) => ({
      afterSeconds: seconds(one.afterMs),
      channelId: one.channelId,
      channel: channels.get(one.channelId) ?? '',
      title: titleOf(one),
      why: ruleInWords(one.rule),
    })),
    notes: notes.map(({ afterMs, channelId, watch, rule }) => ({
      afterSeconds: seconds(afterMs),
      channel: channelId === null ? null : (channels.get(channelId) ?? null),
      watch,
      why: ruleInWords(rule),
    })),
  };
}

const EXAMPLE = { watchIds: [1], happening: 'down', minutes: 5 };

export const drillRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/drills',
    tag: TAG,
    summary: 'Rehearsals',
    does: cases.listDrills,
    list: byTime((item: { began: number; id: number }) => [item.began, item.id]),
    status: 200,
    answer: 'Drills, the latest first.',
    shape: { each: drill },
    input: ({ page }) => ({ page }),
  }),
  rest.actRoute(TAG, '/drill-plans', {
    does: cases.foretellDrill,
    summary: 'Who would be told what in a drill, and when',
    description: 'Nothing is sent.',
    body: cases.drillSchema,
    example: EXAMPLE,
    answer: 'What the routes would say if nobody took it.',
    shape: drillPlan,
    input: ({ body }) => ({ body }),
    tell: (_, plan) => planShape(plan),
  }),
  route({
    method: 'POST',
    path: '/drills',
    tag: TAG,
    does: cases.beginDrill,
    summary: 'Begin a drill',
    description:
      'Made-up troubles go through routes and channels as real ones do, marked as a drill. They touch no figures and no public page.',
    body: cases.drillSchema,
    example: EXAMPLE,
    status: 201,
    answer: 'It has begun.',
    shape: drillReport,
    refusals: ['input.invalid'],
    location: ({ id }) => `/drills/${id}`,
    input: ({ body }) => ({ body }),
    tell: (_, report) => reportShape(report),
  }),
  route({
    method: 'GET',
    path: '/drills/{id}',
    tag: TAG,
    summary: 'What a drill came to',
    does: cases.getDrill,
    status: 200,
    answer: 'What arrived where, how long it took, and who has it.',
    shape: drillReport,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, report) => reportShape(report),
  }),
  rest.actRoute(TAG, '/drills/{id}/end', {
    does: cases.endDrill,
    summary: 'End a drill',
    answer: 'It is over: what was made up is said to be up again.',
    shape: drillReport,
    refusals: ['drill.over'],
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, report) => reportShape(report),
  }),
];
