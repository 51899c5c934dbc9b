import { amount, asSchema, choice, flag, identity, inner, list, named, text, time, whole } from './build';

export const daysOff = named('DaysOff', { days: list(text('A day such as 2026-12-25.')) });

export const jobDraft = named('JobDraft', {
  form: choice(['user', 'system', 'timers'], 'What the text was read as.'),
  asks: list(choice(['form', 'cron']), 'What has to be said before it can be read for certain.'),
  rows: list(
    named('JobRow', {
      line: whole('Counted from 1; for timers their place in the list.'),
      text: text(),
      words: text('When it runs, in words.'),
      name: text(),
      schedule: asSchema({ oneOf: [{ $ref: '#/components/schemas/Schedule' }, { type: 'null' }] }),
      leewaySeconds: amount(),
      problem: text('Why it cannot be watched.').nullable(),
      stands: choice(['new', 'watched', 'differs', 'unknown address'], 'How it stands to what is watched.'),
      watchId: whole().nullable(),
      note: text('What differs, in words.').nullable(),
    }),
  ),
  without: list(inner({ id: whole(), name: text() }), 'Check-ins of the section that no line reports to.'),
});

export const jobImport = named('JobImport', {
  made: list(inner({ id: whole(), line: whole(), name: text() })),
  text: text('The crontab with the chosen lines wrapped, or the drop-ins of the timers.'),
  fetch: text('How the wrapper gets to that machine.'),
  trial: text('A line that tries one as cron would.').nullable(),
});

export const pageWords = named('PageWords', {
  problem: text('Why the page could not be fetched.').nullable(),
  source: text(),
  visible: text(),
  advice: list(
    inner({
      reason: choice(['absent', 'not-found-page', 'address', 'changing', 'hidden']),
      sentence: text(),
      proof: text(),
    }),
    'Why the words would be a weak test.',
  ),
});

export const channel = named('Channel', {
  id: whole(),
  version: text(),
  kind: text(),
  name: text(),
  enabled: flag('Whether messages go to it.'),
  fallbackId: whole('The channel that is told instead where this one takes nothing.').nullable(),
  language: text('What messages to it are said in (BCP 47).'),
  settings: asSchema(
    { type: 'object', additionalProperties: true },
    'What is a key is not shown: {"kept": true} says that there is one, and sent back that it stays.',
  ),
  shown: text('Where it leads, its secrets cut short.'),
  createdAt: time(),
});

export const messageText = named('MessageText', {
  id: whole(),
  version: text(),
  channelId: whole('The channel it is for; null for every channel that has none of its own.').nullable(),
  happening: text('What it is said of.'),
  title: text('A Liquid template; empty for the built-in title.'),
  body: text('A Liquid template; empty for the built-in lines.'),
  trouble: text('Why it could not be used when it was to be said last.').nullable(),
  createdAt: time(),
});

export const textTrial = named('TextTrial', {
  text: inner({ title: text(), lines: list(text()), link: text() }).nullable(),
  problem: text('Why it cannot be filled in.').nullable(),
  saidAt: time('When that was said which it was tried on; null where that is made up.').nullable(),
  about: text('The watch that was about.'),
});

export const channelAnswer = named('ChannelAnswer', {
  ok: flag(),
  retry: flag('Worth another try: the other side was away or busy.'),
  said: text('What the other side answered, in one line.'),
});

export const found = named('Found', {
  value: text('What may stand there.'),
  text: text('The same for a person.'),
});

export const pushKey = named('PushKey', { publicKey: text('As base64url (RFC 8292).') });

export const delivery = named('Delivery', {
  id: whole(),
  channelId: whole(),
  channel: text('The name of the channel.'),
  watchId: whole().nullable(),
  title: text(),
  state: choice(['waiting', 'delivered', 'given-up']),
  attempts: whole(),
  createdAt: time(),
  nextAt: time('When it is tried next, while it waits.').nullable(),
  lastAt: time('When it was tried last.').nullable(),
  lastSaid: text('What was answered then.').nullable(),
});

export const deliveryStory = named('DeliveryStory', {
  id: whole(),
  channelId: whole(),
  channel: text('The name of the channel.'),
  watchId: whole().nullable(),
  state: choice(['waiting', 'delivered', 'given-up']),
  createdAt: time(),
  text: inner({ title: text(), lines: list(text()), link: text() }),
  tries: list(inner({ at: time(), ok: flag(), said: text() }), 'The last first.'),
  route: inner({ id: whole(), name: text() }).nullable(),
  why: text('Why it went there, as the end of a sentence.').nullable(),
  notes: list(
    inner({
      at: time(),
      channel: text().nullable(),
      route: text().nullable(),
      why: text('Why the channel did not hear of it then.'),
    }),
    'Who else was considered at that time.',
  ),
});

export const token = named('Token', {
  id: whole(),
  name: text(),
  createdAt: time(),
  lastUsedAt: time().nullable(),
});

export const newToken = named('NewToken', {
  id: whole(),
  name: text(),
  secret: text('It is shown this once.'),
  createdAt: time(),
  lastUsedAt: time().nullable(),
});

export const deed = named('Deed', {
  id: whole(),
  at: time(),
  deed: text('The operation, as it is called here.'),
  by: inner({
    kind: choice(['account', 'token', 'job', 'link', 'room', 'machine']),
    id: whole().nullable(),
    name: text(),
  }),
  subject: inner({ kind: text(), id: whole().nullable(), name: text() }),
});

export const proofOfLife = named('ProofOfLife', {
  version: text(),
  letter: inner({
    channelId: identity('the channel it goes to'),
    days: list(whole('1 for Monday to 7 for Sunday.')),
    at: text('Such as 07:00, by the clock of the desk.'),
  }).nullable(),
  call: inner({
    address: asSchema({ type: 'object', required: ['kept'], properties: { kept: { const: true } } }),
    everySeconds: whole(),
  }).nullable(),
  lastCall: inner({ at: time(), ok: flag(), said: text('What was answered, in one line.') }).nullable(),
});

export const storage = named('Storage', {
  usedBytes: whole('What the database takes, what is free in it left out.'),
  freeBytes: whole('What is free on its disk.'),
  growth: inner({
    since: time('The first day it stands on; of at most sixty.'),
    bytesPerYear: whole('By the straight line nearest to the sizes of those days.'),
    fullAt: time('When the disk is full at that pace; null where nobody could tell.').nullable(),
  })
    .nullable()
    .meta({ description: 'Null while fewer than seven days are known.' }),
});

export const ownLine = named('OwnLine', { version: text(), addresses: list(text()) });

export const ownLineChanged = named('OwnLineChanged', {
  version: text(),
  addresses: list(text()),
  out: flag('Whether the line is lost at this moment; null while the engine is away.').nullable(),
});

export const ownLineLoss = named('OwnLineLoss', {
  id: whole(),
  beganAt: time(),
  endedAt: time().nullable(),
});

const mailSettings = {
  version: text(),
  open: flag(),
  port: whole(),
  domain: text('What the addresses of check-ins end in.'),
  largestKb: whole('The largest mail that is taken, in kB of 1000 bytes.'),
};

export const mailReports = named('MailReports', {
  ...mailSettings,
  problem: text('Why no mail is taken in though it should be.').nullable(),
  mails: list(
    named('SeenMail', {
      at: time(),
      from: text(),
      client: text(),
      subject: text().nullable(),
      taken: list(
        inner({
          watchId: whole(),
          is: choice(['begun', 'done', 'failed', 'note']),
          word: text().nullable(),
          place: choice(['subject', 'body']).nullable(),
        }),
      ),
      refused: text().nullable(),
    }),
    'Those that came since the start, the newest first.',
  ),
});

export const mailReportsChanged = named('MailReportsChanged', mailSettings);

export const entrance = named('Entrance', {
  links: asSchema(
    { type: 'object', additionalProperties: { type: 'string', format: 'uri' } },
    'Where each list begins.',
  ),
});
