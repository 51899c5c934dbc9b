import { leadSentence } from '@/core/pages/lead';
import { pageSpeechOf } from '@/core/languages/page-speech';
import { PUBLIC_KINDS } from '@/core/pages/public-line';
import { AFFECTED, STAGES } from '@/core/pages/incident';
import type { PublicPage } from '@/views/pages/public-page';
import type { FeedPlace } from './feed';

const iso = (at: number) => new Date(at).toISOString();

/** How everything on a page stands, for programs; its shape is `stateSchema`. */
export function stateFile(view: PublicPage, { language, base }: FeedPlace): string {
  const rows = view.sections.flatMap(({ title, rows: all }) =>
    all.map((row) => ({ section: title, ...row })),
  );
  const state = {
    $schema: `${base}state.schema.json`,
    page: { title: view.page.title, address: base },
    at: iso(view.now),
    lookedAt: view.lookedAt === null ? null : iso(view.lookedAt),
    lead: leadSentence({ rows, openIncidents: view.open.length }, pageSpeechOf(language)),
    services: rows.map(({ section, label, state: stands, figure, shows, since, times }) => ({
      name: label,
      section,
      state: stands,
      ...(shows !== 'state' && {
        days: view.days,
        uptime: figure.uptime,
        observedSeconds: Math.round(figure.observedMs / 1000),
        since: since === null ? null : iso(since),
      }),
      ...(times && { medianMilliseconds: Math.round(times.medianMs * 10) / 10 }),
    })),
    incidents: view.open.map(({ id, title, began, updates, affected }) => ({
      address: `${base}incident/${id}`,
      title,
      stage: updates[0]?.stage ?? 'looking',
      began: iso(began),
      affected: affected.map(({ label, how }) => ({ name: label, how })),
    })),
    maintenance: view.coming.map(({ title, begins, ends, labels }) => ({
      title,
      from: iso(begins),
      until: iso(ends),
      services: labels,
    })),
  };
  return JSON.stringify(state, null, 1);
}

const text = { type: 'string' };
const moment = { type: 'string', format: 'date-time' };
const orNone = (schema: { type: string }) => ({ ...schema, type: [schema.type, 'null'] });
const strict = (properties: Record<string, object>, optional: readonly string[] = []) => ({
  type: 'object',
  additionalProperties: false,
  required: Object.keys(properties).filter((name) => !optional.includes(name)),
  properties,
});

/** JSON Schema (2020-12) of the state of a page. */
export function stateSchema(base: string): object {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: `${base}state.schema.json`,
    title: 'How the services of a public page stand',
    ...strict({
      $schema: text,
      page: strict({ title: text, address: { type: 'string', format: 'uri' } }),
      at: moment,
      lookedAt: orNone(moment),
      lead: text,
      services: {
        type: 'array',
        items: strict(
          {
            name: text,
            section: text,
            state: { enum: [...PUBLIC_KINDS] },
            days: { type: 'integer', description: 'How many days the figure is of.' },
            uptime: {
              type: ['number', 'null'],
              minimum: 0,
              maximum: 1,
              description: 'The part of the time looked at in which it was not out.',
            },
            observedSeconds: { type: 'integer', minimum: 0 },
            since: orNone(moment),
            medianMilliseconds: { type: 'number', minimum: 0 },
          },
          ['days', 'uptime', 'observedSeconds', 'since', 'medianMilliseconds'],
        ),
      },
      incidents: {
        type: 'array',
        items: strict({
          address: { type: 'string', format: 'uri' },
          title: text,
          stage: { enum: [...STAGES] },
          began: moment,
          affected: { type: 'array', items: strict({ name: text, how: { enum: [...AFFECTED] } }) },
        }),
      },
      maintenance: {
        type: 'array',
        items: strict({ title: text, from: moment, until: moment, services: { type: 'array', items: text } }),
      },
    }),
  };
}

const escaped = (value: string) => value.replace(/\\/g, '\\\\').replace(/"/g, '\\"').replace(/\n/g, '\\n');

/** The same for a collector of figures (OpenMetrics 1.0). */
export function metricsFile(view: PublicPage): string {
  const rows = view.sections.flatMap(({ title, rows: all }) =>
    all.map((row) => ({ section: title, ...row })),
  );
  const labels = (row: { section: string; label: string }, rest = '') =>
    `{section="${escaped(row.section)}",service="${escaped(row.label)}"${rest}}`;
  const lines = [
    '# TYPE lantern_service_state stateset',
    '# HELP lantern_service_state How a service stands.',
  ];
  for (const row of rows) {
    for (const kind of PUBLIC_KINDS) {
      lines.push(
        `lantern_service_state${labels(row, `,lantern_service_state="${kind}"`)} ${row.state === kind ? 1 : 0}`,
      );
    }
  }
  lines.push(
    '# TYPE lantern_service_uptime_ratio gauge',
    '# UNIT lantern_service_uptime_ratio ratio',
    `# HELP lantern_service_uptime_ratio Part of the time looked at in which it was not out, over ${view.days} days.`,
  );
  for (const row of rows) {
    if (row.figure.uptime !== null)
      lines.push(`lantern_service_uptime_ratio${labels(row)} ${row.figure.uptime}`);
  }
  lines.push(
    '# TYPE lantern_incidents_open gauge',
    '# HELP lantern_incidents_open Incidents of the page that are not over.',
    `lantern_incidents_open ${view.open.length}`,
    '# EOF',
  );
  return `${lines.join('\n')}\n`;
}
