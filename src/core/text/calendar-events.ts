import ICAL from 'ical.js';

/**
 * The events of an iCalendar text (RFC 5545), of all the calendars in it. Throws an `Error` that says what was expected where
 * it is none.
 */
export function calendarEvents(text: string): ICAL.Component[] {
  const bare = text.replace(/^\uFEFF/, '');
  if (!/^\s*BEGIN:VCALENDAR\s/i.test(bare)) {
    throw new Error('Expected an iCalendar file that begins with BEGIN:VCALENDAR.');
  }
  let parsed: unknown[];
  try {
    parsed = ICAL.parse(bare) as unknown[];
  } catch (error) {
    const why =
      error instanceof TypeError ? 'parts of it do not fit together' : (error as Error).message.slice(0, 120);
    throw new Error(`Expected an iCalendar file (RFC 5545), and got something in it that is none: ${why}.`);
  }
  // One calendar is a component, several are a list of them.
  const calendars = Array.isArray(parsed[0]) ? parsed : [parsed];
  return calendars.flatMap((one) => new ICAL.Component(one as string).getAllSubcomponents('vevent'));
}

/** The text of a property without the white space around it; '' where there is none. */
export function eventText(event: ICAL.Component, name: string): string {
  const value = event.getFirstPropertyValue(name);
  return typeof value === 'string' ? value.trim() : '';
}

/** What an event is called where something is said of it. */
export function eventTitle(event: ICAL.Component): string {
  return eventText(event, 'summary').slice(0, 120) || 'An event without a title';
}

export const isCancelled = (event: ICAL.Component): boolean =>
  eventText(event, 'status').toUpperCase() === 'CANCELLED';

function isWritten({ year, month, day, hour, minute, second }: ICAL.Time, text: string): boolean {
  const numbers = text.match(/\d+/g)?.map(Number) ?? [];
  return [year, month, day, hour, minute, second].every((one, i) => one === (numbers[i] ?? 0));
}

/**
 * The times of a property, which may hold several. Throws an `Error` where one is no time there is: the package would take the
 * second of March for the thirtieth of February.
 */
export function eventTimes(property: ICAL.Property): ICAL.Time[] {
  const [name, parameters, type, ...written] = property.toJSON() as [string, object, string, ...unknown[]];
  return written.map(String).map((one) => {
    let time: ICAL.Time | null = null;
    try {
      time = new ICAL.Property([name, parameters, type, one]).getFirstValue() as ICAL.Time;
    } catch {
      // Said below.
    }
    if (!time || !isWritten(time, one)) throw new Error(`“${one}” is no time there is.`);
    return time;
  });
}
