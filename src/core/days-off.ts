import ICAL from 'ical.js';

const MOST_YEARS_AHEAD = 3;
const MOST_DAYS = 1000;
const MOST_ROUNDS = 10_000;

function dayText(time: ICAL.Time): string {
  const two = (value: number) => String(value).padStart(2, '0');
  return `${time.year}-${two(time.month)}-${two(time.day)}`;
}

/**
 * The days of a calendar's all-day events (RFC 5545), from a day on and three years ahead, in order and each once.
 * Recurring events are laid out; those with a time of day are passed over. Throws an `Error` that says what was
 * expected where the text is no calendar.
 */
export function daysOffOf(text: string, from: string): string[] {
  let root: ICAL.Component;
  try {
    root = new ICAL.Component(ICAL.parse(text) as unknown as string);
  } catch {
    throw new Error('Expected an iCalendar file that begins with BEGIN:VCALENDAR.');
  }
  const last = `${Number(from.slice(0, 4)) + MOST_YEARS_AHEAD}${from.slice(4)}`;
  const days = new Set<string>();
  const add = (start: ICAL.Time, lengthDays: number) => {
    const day = start.clone();
    for (let i = 0; i < Math.max(1, lengthDays); i += 1) {
      const shown = dayText(day);
      if (shown >= from && shown < last && days.size < MOST_DAYS) days.add(shown);
      day.adjust(1, 0, 0, 0);
    }
  };
  for (const component of root.getAllSubcomponents('vevent')) {
    const event = new ICAL.Event(component);
    if (!event.startDate?.isDate) continue;
    const length = Math.round(event.duration.toSeconds() / 86_400);
    if (!event.isRecurring()) {
      add(event.startDate, length);
      continue;
    }
    const rounds = event.iterator();
    for (let i = 0; i < MOST_ROUNDS; i += 1) {
      const start = rounds.next();
      if (!start || dayText(start) >= last) break;
      add(start, length);
    }
  }
  return [...days].sort();
}
