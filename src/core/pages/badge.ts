import type { PageSpeech } from '@/core/languages/page-speech';
import { DAY_MS } from '@/core/time/units';
import { figureOf, PUBLIC_KINDS, type PublicKind, type PublicStretch } from './public-line';
import type { Span } from '@/core/history/spans';
import type { LineDays } from './page';

/** What a badge says: how it stands, its figure, how fast it answers, since when it is calm, or its line. */
export const BADGE_SHOWS = ['state', 'uptime', 'time', 'calm', 'line'] as const;
export type BadgeShows = (typeof BADGE_SHOWS)[number];

/** What a badge is drawn from: one line, or several that it stands for. */
export interface BadgeFacts {
  rows: readonly {
    state: PublicKind;
    line: readonly PublicStretch[];
    /** What does not count in its figure. */
    leftOut?: readonly Span[];
    times: { medianMs: number } | null;
  }[];
  days: LineDays;
  now: number;
}

/** The worst counts, for a badge of several. */
export function badgeState({ rows }: Pick<BadgeFacts, 'rows'>): PublicKind {
  return [...PUBLIC_KINDS].reverse().find((kind) => rows.some(({ state }) => state === kind)) ?? 'unknown';
}

/** Since when nothing of it is out; null where it has not been out as far back as its lines reach. */
function lastOut({ rows }: BadgeFacts): PublicStretch | null {
  const outs = rows.flatMap(({ line }) => line.filter(({ kind }) => kind === 'out'));
  return outs.reduce<PublicStretch | null>((last, one) => (!last || one.to > last.to ? one : last), null);
}

/** What a badge says in words; a figure never says more than the lines it stands on. */
export function badgeWords(facts: BadgeFacts, shows: BadgeShows, speech: PageSpeech): string {
  const { rows, days, now } = facts;
  const { say, length, share, ms } = speech;
  switch (shows) {
    case 'state':
    case 'line':
      return say(`state.${badgeState(facts)}`);
    case 'uptime': {
      const figures = rows.map(({ line, leftOut }) => figureOf(line, leftOut).uptime);
      const known = figures.filter((one) => one !== null);
      // Of several the worst, so that no badge is better than what it stands for.
      const uptime = known.length < figures.length || known.length === 0 ? null : Math.min(...known);
      const begun = Math.min(
        ...rows.flatMap(({ line }) => line.find(({ kind }) => kind !== 'unknown')?.from ?? now),
      );
      const whole = now - begun >= (days - 1) * DAY_MS;
      return `${share(uptime)} · ${whole ? say('span', { days }) : length(now - begun)}`;
    }
    case 'time': {
      const times = rows.flatMap(({ times: one }) => (one ? [one.medianMs] : []));
      return times.length === 0 ? say('uptime.none') : say('usual.time', { ms: ms(Math.max(...times)) });
    }
    case 'calm': {
      const last = lastOut(facts);
      if (rows.every(({ line }) => line.every(({ kind }) => kind === 'unknown'))) return say('uptime.none');
      if (!last) return say('badge.calm.span', { span: say('span', { days }) });
      return last.to >= now
        ? say('badge.out', { length: length(now - last.from) })
        : say('badge.calm', { length: length(now - last.to) });
    }
  }
}
