import { parseCalendar, type CalendarEvent } from './calendar';

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

function listed(words: readonly string[]): string {
  return words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}

type Part = CalendarEvent['hour'];

function partInWords(part: Part, word: (value: number) => string = String): string {
  return listed(
    (part ?? []).map(({ start, stop, repeat }) => {
      const every = repeat > 1 ? `every ${repeat} from ` : '';
      if (stop === start) return word(start);
      if (stop === null) return repeat > 1 ? `${every}${word(start)} on` : `${word(start)} and on`;
      return `${every}${word(start)} to ${word(stop)}`;
    }),
  );
}

function only(part: Part): number | null {
  return part?.length === 1 && part[0]!.stop === part[0]!.start ? part[0]!.start : null;
}

function weekdaysInWords(weekdays: ReadonlySet<number>): string {
  const days = [...weekdays].sort((a, b) => a - b);
  const run = days.length > 2 && days.every((day, i) => i === 0 || day === days[i - 1]! + 1);
  if (run) return `${WEEKDAYS[days[0]!]} to ${WEEKDAYS[days.at(-1)!]}`;
  return listed(days.map((day) => WEEKDAYS[day]!));
}

function timeInWords({ hour, minute, second }: CalendarEvent): string {
  const [h, m, s] = [only(hour), only(minute), only(second)];
  const two = (value: number) => String(value).padStart(2, '0');
  const seconds = s === 0 ? '' : second === null ? ' every second' : ` at second ${partInWords(second)}`;
  if (h !== null && m !== null) return `at ${two(h)}:${two(m)}${s ? `:${two(s)}` : s === 0 ? '' : seconds}`;
  const minutes = minute === null ? 'every minute' : `at minute ${partInWords(minute)}`;
  return `${minutes}${hour === null ? ' of every hour' : ` of hour ${partInWords(hour)}`}${seconds}`;
}

function dateInWords({ year, month, day, fromEnd }: CalendarEvent): string {
  const months = month === null ? '' : ` of ${partInWords(month, (m) => MONTHS[m - 1]!)}`;
  const years = year === null ? '' : ` in ${partInWords(year)}`;
  if (day === null) return month === null && year === null ? '' : `every day${months}${years}`;
  const days = fromEnd ? `day ${partInWords(day)} from the end` : `day ${partInWords(day)}`;
  return `${days}${months === '' ? ' of the month' : months}${years}`;
}

/** A calendar event in words, such as "at 06:30, Monday to Friday"; null when it cannot be read. */
export function calendarInWords(expression: string): string | null {
  let event: CalendarEvent;
  try {
    event = parseCalendar(expression);
  } catch {
    return null;
  }
  const weekdays = event.weekdays ? weekdaysInWords(event.weekdays) : '';
  const zone = event.zone ? `${event.zone} time` : '';
  const text = [timeInWords(event), weekdays, dateInWords(event), zone].filter(Boolean).join(', ');
  return text.charAt(0).toUpperCase() + text.slice(1);
}
