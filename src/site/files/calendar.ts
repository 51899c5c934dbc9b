import { writable } from '@/core/text/writable';
import { ICalCalendar, ICalCalendarMethod, ICalEventStatus, ICalEventTransparency } from 'ical-generator';
import { plainMarkdown } from '@/core/text/markdown';
import type { FeedPlace, FeedView } from './feed';

/** Maintenance of a page as iCalendar (RFC 5545), in UTC. */
export function maintenanceCalendar(
  { page, windows }: Pick<FeedView, 'page' | 'windows'>,
  { base }: FeedPlace,
): string {
  const calendar = new ICalCalendar({
    name: page.title,
    prodId: { company: 'Calm Lantern', product: 'public page' },
    method: ICalCalendarMethod.PUBLISH,
    url: `${base}maintenance.ics`,
    ttl: 3600,
  });
  const host = new URL(base).hostname;
  for (const window of windows) {
    calendar.createEvent({
      id: `maintenance-${window.id}@${host}`,
      // An event that has not changed looks the same each time.
      stamp: new Date(window.announcedAt),
      start: new Date(window.begins),
      end: new Date(window.ends),
      summary: window.title,
      description: [window.labels.join(', '), plainMarkdown(window.text)].filter(Boolean).join('\n\n'),
      url: base,
      status: ICalEventStatus.CONFIRMED,
      transparency: ICalEventTransparency.TRANSPARENT,
    });
  }
  // Each line ends so, the last one too (RFC 5545, 3.1).
  return writable(`${calendar.toString()}\r\n`);
}
