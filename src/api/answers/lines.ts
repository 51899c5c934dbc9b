import { STATES, STRETCH_KINDS } from '@/core/lifecycle/state';
import { TAG_COLOURS } from '@/core/settings/tag';
import { amount, choice, flag, identity, inner, list, named, text, time, whole } from './build';
import { rung } from './finding';

/** What is said of a watch in a row of any kind. */
const row = {
  id: identity('the watch'),
  name: text(),
  section: text('Empty where it is in none.'),
  tags: list(inner({ id: identity('the tag'), name: text(), colour: choice(TAG_COLOURS) })),
  state: choice(STATES),
  warned: flag('Over a limit of its own, and not slow.'),
};

export const jobLine = named(
  'JobLine',
  {
    ...row,
    times: text('When it is expected, in words.'),
    dueAt: time('When it is expected next.').nullable(),
    runningSinceAt: list(time(), 'When each run began that goes on, the oldest first.'),
    lastAt: time('When it was heard of last.').nullable(),
    lastFine: flag('Whether that was well.').nullable(),
    lastRunMs: amount('How long the last measured run took.').nullable(),
  },
  'A check-in as the desk shows it.',
);

export const deskLine = named(
  'DeskLine',
  {
    ...row,
    kind: text('Its kind, in words.'),
    target: text('What it looks at, or when a job is expected.'),
    pace: text('How often it looks; empty for check-ins.'),
    paused: flag(),
    latest: text('What came of it last, in words.'),
    uptime: text('As it is shown: "99.98 %", or "no data".'),
    whole: flag('Whether nothing is missing from it.'),
    stands: text('What the figure stands on, where that is less than the range asked for.'),
    words: text('The line in words.'),
    line: list(
      inner({ kind: choice(STRETCH_KINDS), from: time(), until: time() }),
      'As it is drawn: pieces that are too short for any screen are joined, and none of them hides trouble.',
    ),
  },
  'A watch as the desk shows it.',
);

const card = named('OverviewCard', {
  id: identity('the watch'),
  name: text(),
  state: choice(STATES),
  sinceAt: time('Since when it is in trouble.'),
  probe: flag('Whether it can be looked at again.'),
  warned: row.warned,
  sentence: text('Why.'),
  advice: text('What to try next.'),
  ladder: list(rung, 'The layers of the look, in order.'),
  told: list(text(), 'Names of the channels that were told.'),
  takenBy: text('Who has it.').nullable(),
  follows: inner({ id: identity('the watch it follows from'), name: text() }).nullable(),
});

export const overviewHead = named(
  'Overview',
  {
    readAt: time(),
    watches: whole('How many there are.'),
    sentence: text('The one that leads the desk.'),
    below: text('The one below it; may be empty.'),
    cards: list(card, 'What wants a hand by itself; the first.'),
    moreCards: whole('How many more want one.'),
    together: list(
      inner({ sentence: text('The likely cause.'), advice: text(), cards: list(card), more: whole() }),
      'Troubles that belong together.',
    ),
    own: list(
      inner({
        key: text(),
        sentence: text(),
        advice: text(),
        beganAt: time('Null where it is not known since when.').nullable(),
      }),
      'What is wrong with Calm Lantern itself.',
    ),
    lineLostAt: time('Since when this machine cannot reach out.').nullable(),
    unheard: inner(
      { count: whole(), first: list(inner({ id: identity('the watch'), name: text() })) },
      'Watches that would tell nobody.',
    ),
  },
  'How things are, as the desk leads with it.',
);

export const outageLine = named(
  'OutageLine',
  {
    id: identity('the outage'),
    watchId: identity('the watch'),
    watch: text('What it is called.'),
    beganAt: time('The first failed look of its run.'),
    noticedAt: time('When it was confirmed.'),
    endedAt: time('Null while it lasts.').nullable(),
    sentence: text('Why.'),
    told: list(text(), 'Names of the channels that were told.'),
    takenBy: text('Who has it.').nullable(),
    follows: inner({
      id: identity('the watch it followed from'),
      name: text('Empty where it is gone.'),
    }).nullable(),
    incident: inner(
      { id: identity('the incident'), title: text() },
      'What the public was told of it.',
    ).nullable(),
  },
  'An outage as the desk shows it.',
);
