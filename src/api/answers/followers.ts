import { FOLLOWER_KINDS, FOLLOWER_STATES } from '@/core/followers/follower';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { choice, flag, identity, inner, list, named, text, time, whole } from './build';

const fields = {
  id: whole(),
  pageId: identity('the page'),
  kind: choice(FOLLOWER_KINDS, 'By mail, by signed events to a program, or in a browser.'),
  address: text(),
  labels: list(text(), 'Lines of the page they chose; null for all of them.').nullable(),
  maintenance: flag('Whether they hear of maintenance, too.'),
  language: choice(LANGUAGE_CODES),
  state: choice(FOLLOWER_STATES, 'Asked and silent so far; told; or put aside, for nothing reaches them.'),
  consent: text('How it is known that they want it; empty while they have not said so.'),
  createdAt: time(),
  askedAt: time().nullable(),
  confirmedAt: time().nullable(),
  refusals: whole('Lasting refusals one after the other.'),
  asideWhy: text('Why they were put aside.').nullable(),
};

export const follower = named('Follower', fields);

const letter = inner({
  title: text('What it told of.'),
  state: choice(['waiting', 'sent', 'given-up']),
  sentAt: time().nullable(),
  said: text('What the other side answered.'),
});

export const wholeFollower = named('WholeFollower', {
  ...fields,
  letters: list(letter, 'What they were sent, the newest first.'),
});

export const madeFollower = named('MadeFollower', {
  ...fields,
  secret: text('What events are signed with; shown this once. Null for mail.').nullable(),
});

export const followerImport = named('FollowerImport', {
  added: whole(),
  known: whole('Those that follow already.'),
  refused: list(inner({ line: whole(), text: text() }), 'Lines that hold no mail address.'),
});

export const untoldLetter = named('UntoldLetter', {
  pageId: identity('the page'),
  title: text(),
  dueAt: time('When it goes out.'),
});

export const lettersTaken = named('LettersTaken', { taken: whole('How many letters do not go out.') });
