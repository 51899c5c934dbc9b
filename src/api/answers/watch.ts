import { object, type AnySchema, type ObjectSchema, type ObjectShape } from 'yup';
import { STATES } from '@/core/lifecycle/state';
import { TAG_COLOURS } from '@/core/settings/tag';
import { checkinTiming, probeTiming } from '@/cases/schemas/timing';
import { probeKinds, secretsOf } from '@/probes/kinds/registry';
import type { ProbeKind } from '@/probes/frame/kind';
import {
  asSchema,
  choice,
  flag,
  identity,
  inner,
  list,
  named,
  text,
  time,
  whole,
  type Variants,
} from './build';
import { finding } from './finding';

export const sectionRef = named('SectionRef', { id: whole(), name: text() });
export const watchRef = named('WatchRef', { id: whole(), name: text() });

const LEVELS = ['product', 'instance', 'kind', 'section', 'watch'];

const kept = asSchema(
  {
    oneOf: [
      { type: 'string' },
      { type: 'object', required: ['kept'], properties: { kept: { const: true } } },
    ],
  },
  'A secret is not shown: {"kept": true} says that there is one, and sent back that it stays.',
);

/** A setting as it is told: of the input's checks only what it is. */
function told(schema: AnySchema): AnySchema {
  return schema.meta({ told: true } as never);
}

function settingsOf(kind: ProbeKind<object>): AnySchema {
  const secrets = secretsOf(kind);
  const fields = Object.entries(kind.schema.fields as Record<string, AnySchema>).map(([name, schema]) => [
    name,
    secrets.includes(name) ? kept : told(schema),
  ]);
  return object(Object.fromEntries(fields) as ObjectShape).defined();
}

const timing = (shape: Record<string, AnySchema>) =>
  Object.fromEntries(
    Object.entries(shape).map(([name, schema]) => [name, told(schema.defined() as AnySchema)]),
  );

const before = {
  id: identity('the watch'),
  version: text('Changes when its settings do; sent back with a change, it has to be the present one.'),
  name: text(),
  section: sectionRef.nullable(),
  tags: list(text(), 'The names of its tags.'),
};

const after = {
  sources: asSchema(
    { type: 'object', additionalProperties: { enum: LEVELS } },
    'Where each shared setting comes from.',
  ),
  paused: flag(),
  state: choice(STATES),
  stateSinceAt: time('Since when it has been in this state.'),
  createdAt: time(),
  lastFinding: finding.nullable(),
};

const capital = (id: string) => id.replace(/(^|-)(\w)/g, (_, __, c: string) => c.toUpperCase());

/** The name of what is told of a kind of watch. */
export function watchName(kind: string): string {
  return `${capital(kind)}Watch`;
}

function probeWatch(kind: ProbeKind<object>): ObjectSchema<object> {
  return named(watchName(kind.id), {
    ...before,
    kind: choice([kind.id]),
    settings: settingsOf(kind),
    ...timing(probeTiming),
    ...after,
  });
}

const checkinWatch = named(watchName('checkin'), {
  ...before,
  kind: choice(['checkin']),
  schedule: asSchema({ $ref: '#/components/schemas/Schedule' }, 'When the job is expected.'),
  ...timing(checkinTiming),
  ...after,
  checkinAddress: text('Where the job reports.'),
  mailAddress: text('Where it may report by mail.').nullable(),
  checkinName: text('The readable end of its address under the secret of its section.').nullable(),
  oldAddress: inner(
    { until: time('So long the address it had before counts.'), lastUsedAt: time().nullable() },
    'The address it had before, while that still counts.',
  ).nullable(),
});

export const watch: Variants = {
  name: 'Watch',
  by: 'kind',
  of: {
    ...Object.fromEntries(probeKinds().map((kind) => [kind.id, probeWatch(kind)])),
    checkin: checkinWatch,
  },
};

export const deletedWatch = named('DeletedWatch', {
  id: whole(),
  name: text(),
  kind: text(),
  deletedAt: time(),
});

export const section = named('Section', {
  id: whole(),
  version: text(),
  name: text(),
  watches: whole('How many watches it has.'),
});

export const sectionAddress = named('SectionAddress', {
  address: text(
    'Where the jobs of the section report, without the name at its end; null when closed.',
  ).nullable(),
  mostNew: whole('So many unknown names may make check-ins of their own.'),
});

export const tag = named('Tag', {
  id: whole(),
  version: text(),
  name: text(),
  colour: choice(TAG_COLOURS),
  watches: whole('How many watches carry it.'),
});

export const filter = named('Filter', {
  id: whole(),
  name: text(),
  filter: inner({
    states: list(choice(STATES)),
    kinds: list(text()),
    sections: list(text()),
    tags: list(text()),
    text: text(),
  }),
});

const change = inner({
  setting: text('The name of the setting, where it is one.').optional(),
  label: text(),
  before: text(),
  after: text(),
});

export const effect = named('Effect', { id: whole(), name: text(), changes: list(change) });

export const manyChanged = named('ManyChanged', {
  preview: flag(),
  chosen: whole('How many watches were meant.'),
  watches: list(effect, 'Those for which something changes.'),
});

const lived = {
  beganAt: time(),
  noticedAt: time(),
  endedAt: time('Null while it lasts.').nullable(),
};

const livedCount = (description: string) =>
  inner({ outages: whole('How many outages.'), slow: whole('How often it counted as slow.') }, description);

export const watchTrial = named('WatchTrial', {
  from: time('From when on there is something to try it on.'),
  until: time(),
  now: livedCount('With the settings it has.'),
  then: livedCount('With those that were tried.'),
  changed: list(
    inner({ ...lived, thenNoticedAt: time('Null where it would not have been told.').nullable() }),
    'Outages that would have been noticed at another time, or not at all, the latest 200.',
  ),
  added: list(inner(lived), 'Outages there would have been besides, the latest 200.'),
});

const anyValues = asSchema({ type: 'object', additionalProperties: true });

export const sharedChanged = named('SharedChanged', {
  version: text('Of all that is shared, as it stands now.'),
  preview: flag(),
  values: anyValues,
  watches: list(effect, 'Those for which something changes.'),
});

const byKind = asSchema({
  type: 'object',
  additionalProperties: { type: 'object', additionalProperties: true },
});

export const sharedSettings = named('SharedSettings', {
  version: text(),
  settings: list(inner({ name: text(), label: text(), kinds: list(text()) }), 'What may be shared.'),
  shipped: byKind,
  instance: anyValues,
  kinds: byKind,
  sections: list(inner({ id: whole(), name: text(), values: anyValues })),
});

export const offer = named('Offer', {
  kind: text(),
  settings: anyValues,
  name: text('A name no other watch has.'),
  title: text('The kind, in words.'),
  fits: flag('Whether it answered.'),
  said: text('What came of it.'),
});

export const bulkVerdict = named('BulkVerdict', {
  line: whole(),
  text: text(),
  kind: text(),
  name: text(),
  watch: asSchema(
    { type: ['object', 'null'], additionalProperties: true },
    'The body to make the watch with; null where the line cannot be used.',
  ),
  problem: text('What is wrong, with what was expected.').nullable(),
  note: text('What was done to make it fit, or what to know.').nullable(),
});

export const foundWatch = named('FoundWatch', { id: whole(), name: text(), state: choice(STATES) });

export const batchLine = named('BatchLine', {
  id: identity('the watch that was made, or came back').nullable(),
  name: text('What it is called; empty where it was refused.'),
  problem: text('Why it was refused.').nullable(),
});
