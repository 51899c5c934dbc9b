import { PHASES, RUNGS } from '@/core/causes/finding';
import { amount, asSchema, choice, flag, identity, inner, list, named, text, time, whole } from './build';

export const rung = named('Rung', {
  rung: choice(RUNGS, 'Which layer.'),
  label: text('What the layer is called.'),
  result: choice(['fine', 'failed', 'not-reached', 'unknown']),
  note: text('What was seen there.').optional(),
});

export const evidence = named(
  'Evidence',
  {
    phases: inner(
      Object.fromEntries(PHASES.map((phase) => [`${phase}Ms`, amount().optional()])),
      'How long each phase took by itself; absent where it did not happen.',
    ).optional(),
    ladder: list(rung, 'The layers of the look, in order.').optional(),
    walk: list(rung, 'The layers walked one by one after a first failure.').optional(),
    status: whole('The HTTP status.').optional(),
    bytes: whole('How much was read.').optional(),
    address: text('The address that was connected to.').optional(),
    addresses: list(text(), 'Every address the name stands for, as far as they were tried.').optional(),
    finalUrl: text('Where redirects led.').optional(),
    redirects: whole('How many there were.').optional(),
    certificate: named('CertificateFacts', {
      subject: text(),
      issuer: text(),
      names: list(text()),
      validFromAt: time().nullable(),
      validUntilAt: time().nullable(),
      fingerprint: text('SHA-256, in hex.').optional(),
      protocol: text('Such as TLSv1.3.').optional(),
      key: text('Such as EC P-256.').optional(),
      chain: list(text(), 'The common names up to the root.').optional(),
    }).optional(),
    unchecked: flag('The certificate was not checked, because the settings say so.').optional(),
    wordsFound: whole('How often the words were found.').optional(),
    facts: list(inner({ label: text(), value: text() }), 'Further facts.').optional(),
    excerpt: named('Excerpt', {
      statusLine: text().optional(),
      headers: list(list(text()), 'Names and values.').optional(),
      body: text().optional(),
    }).optional(),
    steps: list(
      inner({
        name: text(),
        tookMs: amount(),
        result: choice(['fine', 'failed', 'not-reached', 'unknown']),
        status: whole().optional(),
      }),
      'The steps of a journey.',
    ).optional(),
    reading: inner({ value: amount(), unit: text() }, 'What was read.').optional(),
    baseline: text('What the next looks are compared with.').optional(),
    seenSinceAt: time('When the value that is now seen was seen first.').optional(),
  },
  'What was seen; secrets and cookies are blanked.',
);

export const finding = named('Finding', {
  at: time('When it was made.'),
  verdict: choice(['fine', 'slow', 'failed']),
  tookMs: amount('How long the look took.').nullable(),
  cause: text('A stable code for why.').nullable(),
  sentence: text('The cause in a sentence.').optional(),
  advice: text('What to try.').optional(),
  value: amount('What was read.').optional(),
  evidence: evidence.optional(),
});

export const trial = finding
  .shape({
    settings: asSchema(
      { type: 'object', additionalProperties: true },
      'What was looked at, its secrets blanked.',
    ),
    failsWhen: text('What would count as failing.'),
  })
  .meta({ name: 'Trial' });

export const outage = named('Outage', {
  id: whole(),
  watchId: whole(),
  beganAt: time('The first failed look of its run.'),
  noticedAt: time('When it was confirmed.'),
  endedAt: time('The first fine finding that stood; null while it lasts.').nullable(),
  cause: text('A stable code for why.'),
  causes: list(text(), 'Every cause there was, in order.'),
  sentence: text('The cause in a sentence.'),
  advice: text('What to try.'),
  evidence: evidence.nullable(),
  followsWatchId: whole('The watch whose outage it follows from.').nullable(),
  leftOut: text('Why it is left out of figures; null where it counts.').nullable(),
});

export const failedLook = named('FailedLook', {
  watchId: whole(),
  at: time(),
  cause: text('A stable code for why.'),
  sentence: text('The cause in a sentence.'),
  advice: text('What to try.'),
  evidence,
});

export const report = named('Report', {
  id: whole(),
  watchId: whole(),
  at: time('When it arrived.'),
  is: choice(['begun', 'done', 'failed', 'note'], 'What the job said.'),
  code: whole('The exit code.').nullable(),
  run: text('The run it belongs to, as the job calls it.').nullable(),
  runMs: whole('How long the run took, from its begin to its end.').nullable(),
  tookMs: whole('How long it took by the job’s own clock.').nullable(),
  progress: amount('How far the run is, as it says itself, in per cent.').nullable(),
  method: text('By which way it came.'),
  client: text('The address it came from.'),
  agent: text('Which program spoke.').nullable(),
  output: text('What the job printed; secrets are blanked.').nullable(),
});

export const run = named(
  'Run',
  {
    id: identity('its last report'),
    firstId: identity('its first report'),
    name: text('As the job calls it.').nullable(),
    heardAt: time('When its first report came.'),
    dueAt: time('The due time it answers.').nullable(),
    beganAt: time('Null where it did not say so.').nullable(),
    endedAt: time('Null while it goes on, or where that was never heard.').nullable(),
    tookMs: whole('Null where it is not known.').nullable(),
    result: choice(['done', 'failed', 'running', 'never-done']),
    code: whole('The exit code.').nullable(),
    progress: amount('How far it is, as it says itself, in per cent.').nullable(),
    notes: whole('How many notes it sent.'),
    doubled: flag('Whether another run had begun and not ended when it began.'),
    client: text('The address it came from.'),
    agent: text('Which program spoke.').nullable(),
    output: text('What the job printed; secrets are blanked.').nullable(),
  },
  'A run of a job, put together from what it reported.',
);

export const figures = named('Figures', {
  from: time('Where the span begins; never before the watch was made.'),
  until: time('Where it ends.'),
  spanSeconds: amount(),
  observedSeconds: amount('The span without waiting, pauses, maintenance and time nobody looked.'),
  downSeconds: amount('Observed time within outages.'),
  uptime: amount('1 − down / observed; null where nothing was observed.').nullable(),
  outages: inner({
    count: whole(),
    totalSeconds: amount(),
    longestSeconds: amount(),
    meanBetweenSeconds: amount('From the end of one to the beginning of the next.').nullable(),
    meanToMendSeconds: amount().nullable(),
  }),
  leftOut: whole('How many outages are left out of all this, for a reason each.'),
  times: inner(
    {
      count: whole('Of looks that were answered.'),
      minMs: amount(),
      medianMs: amount(),
      p95Ms: amount(),
      p99Ms: amount(),
      maxMs: amount(),
    },
    'Response times, within 2 % of the exact ones; null where nothing was answered.',
  ).nullable(),
});
