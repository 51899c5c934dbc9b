/**
 * The whole story by a client that was generated from the document: it has to compile under `strict`, and to run. Prints
 * what it came to as JSON.
 */
import createClient from 'openapi-fetch';
import type { components, paths } from './schema';

const [base = '', token = '', site = '', hook = ''] = process.argv.slice(2);
const client = createClient<paths>({
  baseUrl: `${base}/api/v1`,
  headers: { authorization: `Bearer ${token}` },
});

function good<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.error !== undefined || answer.data === undefined) {
    throw new Error(`${answer.response.status}: ${JSON.stringify(answer.error)}`);
  }
  return answer.data;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

type Watch = components['schemas']['Watch'];

// An address and nothing else, as the README has it.
const watch: Watch = good(
  await client.POST('/watches', { body: { kind: 'web', settings: { address: site } } }),
);
if (watch.kind !== 'web') throw new Error(`Expected a web watch, got ${watch.kind}.`);
const { address } = watch.settings;

const trial = good(
  await client.POST('/looks', {
    body: { kind: 'web', settings: { address: site, words: 'Choose your crossing' } },
  }),
);

const read = await client.GET('/watches/{id}', { params: { path: { id: watch.id } } });
const tag = read.response.headers.get('etag') ?? '';
const changed = good(
  await client.PATCH('/watches/{id}', {
    params: { path: { id: watch.id }, header: { 'If-Match': tag } },
    body: { kind: 'web', everySeconds: 30, settings: { address: site, words: 'Choose your crossing' } },
  }),
);
const late = await client.PATCH('/watches/{id}', {
  params: { path: { id: watch.id }, header: { 'If-Match': tag } },
  body: { kind: 'web', name: 'Too late', settings: { address: site } },
});

const room = good(
  await client.POST('/channels', {
    body: { kind: 'webhook', name: 'Crew room', settings: { address: hook } },
  }),
);
const said = good(await client.POST('/channels/{id}/test', { params: { path: { id: room.id } } }));

const job = good(
  await client.POST('/watches', {
    body: {
      kind: 'checkin',
      name: 'Nightly manifest',
      schedule: { type: 'cron', expression: '30 2 * * *', zone: 'Europe/Lisbon' },
    },
  }),
);
if (job.kind !== 'checkin') throw new Error(`Expected a check-in, got ${job.kind}.`);
await fetch(`${job.checkinAddress}?code=0`);

const page = good(
  await client.POST('/pages', {
    body: {
      title: 'Tern Island Ferries',
      slug: 'ferries',
      sections: [{ title: 'On the web', items: [{ watchIds: [watch.id], label: 'Booking' }] }],
    },
  }),
);
const incident = good(
  await client.POST('/pages/{id}/incidents', {
    params: { path: { id: page.id } },
    body: { title: 'Booking is slow', stage: 'looking', body: 'We are looking into it.' },
  }),
);
const over = good(
  await client.POST('/incidents/{id}/updates', {
    params: { path: { id: incident.id } },
    body: { stage: 'over', body: 'It works again.' },
  }),
);
const window = good(
  await client.POST('/windows', {
    body: {
      title: 'New mast',
      watchIds: [watch.id],
      from: '2036-12-01T06:00:00Z',
      until: '2036-12-01T08:00:00Z',
    },
  }),
);

let findings: components['schemas']['Finding'][] = [];
for (let tries = 0; tries < 100 && findings.length === 0; tries += 1) {
  findings = good(
    await client.GET('/watches/{id}/findings', {
      params: { path: { id: watch.id }, query: { limit: 10, order: 'asc' } },
    }),
  );
  await pause(100);
}
const figures = good(await client.GET('/watches/{id}/figures', { params: { path: { id: watch.id } } }));
const deeds = good(await client.GET('/deeds', { params: { query: { limit: 1000 } } }));
const gone = await client.DELETE('/watches/{id}', { params: { path: { id: watch.id } } });
const nothing = await client.GET('/watches/{id}', { params: { path: { id: watch.id } } });

console.log(
  JSON.stringify({
    address,
    trial: trial.verdict,
    every: changed.kind === 'web' ? changed.everySeconds : null,
    late: [late.response.status, late.error?.code],
    said: said.ok,
    over: over.endedAt !== null,
    window: [window.from, window.until],
    verdict: findings[0]?.verdict,
    uptime: figures.uptime,
    deeds: deeds.map((deed) => deed.deed),
    gone: gone.response.status,
    nothing: nothing.error?.code,
  }),
);
