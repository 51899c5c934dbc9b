import type { Page } from '@/store/pages/pages';
import type { WatchTies } from '@/views/watch/ties';
import type { WatchWithStatus } from '@/store/watches/watches';

function named(names: readonly string[]): string {
  const shown = names.slice(0, 3).map((name) => `“${name}”`);
  return names.length > 3 ? `${shown.join(', ')} and ${names.length - 3} more` : shown.join(', ');
}

/** What goes with a watch when it is deleted, in sentences. */
export function goesWithSentence(
  watch: Pick<WatchWithStatus, 'id' | 'config'>,
  { carries, wholes }: Pick<WatchTies, 'carries' | 'wholes'>,
  pages: readonly Page[],
  outages: number,
): string {
  const resting = carries.map(({ name }) => name);
  const shownOn = pages.filter((page) =>
    page.sections.some((section) => section.items.some((item) => item.watchIds.includes(watch.id))),
  );
  return [
    watch.config.type === 'probe' ? 'Its looks stop.' : 'Its check-in address stops working.',
    shownOn.length > 0 ? `It leaves the public page ${named(shownOn.map((page) => page.title))}.` : '',
    resting.length > 0 ? `${named(resting)} no longer ${resting.length === 1 ? 'rests' : 'rest'} on it.` : '',
    wholes.length > 0 ? `${named(wholes)} ${wholes.length === 1 ? 'loses' : 'lose'} a part.` : '',
    outages > 0
      ? `${outages === 1 ? 'One outage' : `${outages} outages`} of the last 90 days would go with it.`
      : '',
  ]
    .filter(Boolean)
    .join(' ');
}
