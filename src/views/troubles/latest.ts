import { formatDuration, formatMs } from '@/core/time/duration';
import { readingText } from '@/core/expect/limits';
import { probeKind } from '@/probes/kinds/registry';
import type { WatchWithStatus } from '@/store/watches/watches';

/** The newest figure of a watch: how long the last fine look or run took. */
export function latestText(watch: WatchWithStatus, lastRunMs: number | null, now: number): string {
  if (watch.config.type === 'probe') {
    const { lastFinding } = watch;
    const reading = lastFinding?.evidence?.reading;
    if (reading) return readingText(reading.value, reading.unit);
    return lastFinding && lastFinding.verdict !== 'failed' ? formatMs(lastFinding.ms) : '–';
  }
  if (lastRunMs !== null) return formatMs(lastRunMs);
  return watch.status.lastAt === null ? '–' : `${formatDuration(now - watch.status.lastAt)} ago`;
}

/** What kind of watch it is, in two words: "web page", "port 9100", "check-in". */
export function kindText(watch: WatchWithStatus): string {
  if (watch.config.type === 'checkin') return 'check-in';
  const settings = watch.config.settings as { port?: number };
  if (watch.kind === 'port') return `port ${settings.port}`;
  return probeKind(watch.kind)?.title ?? watch.kind;
}
