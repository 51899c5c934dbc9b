import { TELLS } from '@/core/settings/tells';
import { URGENCIES } from '@/core/settings/urgency';
import { OUTSIDE } from '@/core/telling/hours';
import { TOPIC_NAMES } from '@/core/telling/topic';
import { DRILL_HAPPENING_NAMES } from '@/core/telling/ahead/drill';
import { amount, choice, flag, identity, inner, list, named, text, time, whole } from './build';

const group = {
  sections: list(text(), 'By name; the empty one is for watches without a section.'),
  tags: list(text()),
  kinds: list(text()),
  ids: list(identity('a watch')),
};

export const messageRoute = named('Route', {
  id: whole(),
  version: text(),
  name: text(),
  enabled: flag('Whether anything goes by it.'),
  sentence: text('Who hears what, when, as a sentence.'),
  watches: inner({ all: flag(), ...group, except: inner(group) }, 'Which watches it is about.'),
  topics: list(choice(TOPIC_NAMES), 'What is told by it.'),
  steps: list(
    inner({ after: whole('Seconds since it was noticed.'), channels: list(identity('a channel')) }),
    'Who hears, and who hears next if nobody has taken it by then.',
  ),
  again: whole('All who heard are told again every so many seconds.').nullable(),
  againMost: whole('No more often than this.').nullable(),
  hours: inner({
    zone: text(),
    spans: list(
      inner({
        days: list(whole('1 for Monday to 7 for Sunday.')),
        from: text('Such as 07:00.'),
        until: text(),
      }),
    ),
    daysOff: list(text('A day such as 2026-12-25.')),
    outside: choice(OUTSIDE),
  }).nullable(),
});

const replayed = (description: string) =>
  inner(
    {
      messages: whole('How many messages would have been sent.'),
      atNight: whole('Of those, how many between 22:00 and 07:00.'),
      channels: list(
        inner({ channelId: identity('a channel'), messages: whole(), atNight: whole() }),
        'The same by channel.',
      ),
      outages: whole('How many outages there were to tell of.'),
      unheard: whole('Of those, how many nobody would have heard of.'),
      inMaintenance: whole('Outages that came and went within maintenance.'),
    },
    description,
  );

export const routeTrial = named('RouteTrial', {
  from: time('Where the past begins that it was tried on.'),
  until: time(),
  now: replayed('As the routes are now.'),
  then: replayed('With the route that was tried.'),
  unheard: list(
    inner({
      outageId: identity('an outage'),
      watchId: identity('a watch'),
      watch: text('Its name.'),
      beganAt: time(),
      why: text('Why nobody would have heard of it, as the end of a sentence.'),
    }),
    'The latest of those nobody would have heard of.',
  ),
});

export const routeScope = named('RouteScope', {
  watches: whole('How many watches it is about today; those that are paused do not count.'),
  example: inner(
    {
      id: identity('a watch'),
      name: text(),
      kind: text(),
      section: text('By name.').nullable(),
      tags: list(text()),
      urgency: choice(URGENCIES),
      tells: choice(TELLS, 'Who hears of it, by the watch itself.'),
      tellsTo: list(identity('a channel'), 'Its own channels.'),
    },
    'The first of them by name.',
  ).nullable(),
});

const drillFields = {
  id: whole(),
  watches: list(inner({ id: whole(), name: text() }), 'The watches whose trouble is made up.'),
  happening: choice(DRILL_HAPPENING_NAMES),
  beganAt: time(),
  until: time('When it ends by itself.'),
  endedAt: time().nullable(),
  by: text('Who began it.'),
};

export const drill = named('Drill', drillFields);

export const drillReport = named('DrillReport', {
  ...drillFields,
  deliveries: list(
    inner({
      id: identity('a delivery'),
      channelId: identity('a channel'),
      channel: text('Its name.'),
      title: text(),
      saidAt: time(),
      state: choice(['waiting', 'delivered', 'given-up']),
      arrivedAt: time().nullable(),
      tookSeconds: amount('From when it was said until it arrived.').nullable(),
      lastSaid: text('What the other side answered last.').nullable(),
      why: text('Why it went there, as the end of a sentence.').nullable(),
    }),
  ),
  taken: list(inner({ watch: text(), by: text(), at: time() }), 'Who has what, while it goes on.'),
});

export const drillPlan = named('DrillPlan', {
  says: list(
    inner({
      afterSeconds: whole('Since it begins.'),
      channelId: identity('a channel'),
      channel: text('Its name.'),
      title: text(),
      why: text('Why it goes there, as the end of a sentence.'),
    }),
  ),
  notes: list(
    inner({
      afterSeconds: whole(),
      channel: text().nullable(),
      watch: text(),
      why: text('Why it is not told then, as the end of a sentence.'),
    }),
    'What is not told, and why.',
  ),
});

export const conversation = named('Conversation', {
  open: flag('A trouble of the watch is told, or would be.'),
  heard: list(identity('a channel'), 'Who heard of it.'),
  taken: inner({
    by: text(),
    at: time('Since when.'),
    untilAt: time('Until when, where that was said.').nullable(),
  }).nullable(),
});

export const foretold = named('Foretold', {
  sentence: text('Who would be told if it went down now and nobody took it.'),
  said: list(
    inner({
      channelId: identity('a channel'),
      afterSeconds: whole('Since it was noticed.'),
      again: flag('It was told before.'),
    }),
  ),
});
