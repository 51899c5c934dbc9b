import { identity, inner, list, named, text, time, whole } from './build';

const coverage = {
  watchIds: list(whole(), 'Watches that were chosen by themselves.'),
  sectionIds: list(whole(), 'All of these sections.'),
  tagIds: list(whole(), 'All that carry one of these tags.'),
};

const plan = {
  title: text(),
  text: text('Markdown for the public.'),
  ...coverage,
  announceDays: whole('So many days ahead the public is told.'),
};

export const window = named('Window', {
  id: whole(),
  version: text(),
  ...plan,
  covers: list(whole(), 'The ids of all watches it is for, however they were chosen.'),
  from: time(),
  until: time(),
  recurringId: identity('the recurring maintenance it is one time of; null for one by itself').nullable(),
});

export const recurringWindow = named('RecurringWindow', {
  id: whole(),
  version: text(),
  ...plan,
  covers: list(whole()),
  rule: text('A recurrence rule (RFC 5545, 3.3.10).'),
  zone: text('By whose wall clock it begins and ends.'),
  first: text('What the wall clock shows when it begins first.'),
  lastsMinutes: whole('How long it lasts by the wall clock, in minutes.'),
  inWords: text('How it repeats, in words.'),
  next: list(inner({ from: time(), until: time() }), 'When it comes next.'),
  calledOff: list(text(), 'Times that were called off, by what the wall clock would have shown.'),
});

export const windowTrial = named('WindowTrial', {
  times: list(inner({ from: time(), until: time() }), 'When it would come, the first few times.'),
  inWords: text('How it repeats, in words; null for one stretch.').nullable(),
  watches: whole('How many watches it would be for, as of now.'),
  clashes: list(
    inner({ windowId: whole(), title: text(), watchIds: list(whole()), from: time(), until: time() }),
    'What is planned for some of the same watches at the same time already.',
  ),
});

export const calendarPlan = named('CalendarPlan', {
  windows: list(inner({ title: text(), from: time(), until: time() })),
  recurring: list(inner({ title: text(), inWords: text(), zone: text(), first: text() })),
  past: whole('How many events are over, and were left out.'),
  refused: list(inner({ title: text(), problem: text() }), 'What cannot be taken, and why.'),
});

export const maintenanceCalendar = named('MaintenanceCalendar', { calendar: text('iCalendar (RFC 5545).') });
