import type { SharedFacts } from '@/core/causes/machines';
import type { Rung } from '@/core/causes/finding';
import type { StatusEvent } from '@/core/lifecycle/status';
import type { Tells } from '@/core/settings/tells';
import type { Urgency } from '@/core/settings/urgency';
import type { OwnTelling, WatchFacts } from './route';
import type { Happening } from './telling';

/** The conversation about a watch. */
export function threadOf(watchId: number, drill: number | null = null): string {
  return drill === null ? `w${watchId}` : `d${drill}.${watchId}`;
}

export interface Watched {
  id: number;
  name: string;
  kind: string;
  section: string | null;
  tags: readonly { name: string }[];
  config?: {
    urgency?: Urgency;
    runbook?: string;
    runbookNote?: string;
    tells?: Tells;
    tellsTo?: readonly number[];
  };
}

/** What a watch says of who hears; null where the routes alone say that. */
export function tellsOf({
  tells = 'by-routes',
  tellsTo: channels = [],
}: {
  tells?: Tells;
  tellsTo?: readonly number[];
}): OwnTelling | null {
  return tells === 'by-routes' ? null : { how: tells, channels };
}

/** What routes look at in a watch. */
export function factsOf({ id, name, kind, section, tags, config = {} }: Watched): WatchFacts {
  const { urgency = 'soon', runbook: link = '', runbookNote: note = '' } = config;
  const tells = tellsOf(config);
  return {
    id,
    name,
    kind,
    section,
    tags: tags.map((tag) => tag.name),
    urgency,
    ...((link !== '' || note !== '') && { runbook: { link, note } }),
    ...(tells && { tells }),
  };
}

/** What a decision's events do not say themselves. */
interface Around {
  paused: boolean;
  at: number;
  walk?: readonly Rung[];
  /** What it may share with other troubles. */
  shares?: SharedFacts;
  /** The look that was slow, where one was, and the limit it passed. */
  slow?: { ms: number; limitMs: number };
}

/**
 * What of a decision's events may be told. What follows from another watch's outage joins what is told of that; what ends
 * because nobody looks any more is told as that.
 */
export function happeningsOf(
  watch: WatchFacts,
  events: readonly StatusEvent[],
  { paused, at, walk, shares, slow }: Around,
): Happening[] {
  const thread = threadOf(watch.id);
  const happenings: Happening[] = [];
  const down = ({
    began,
    noticed,
    cause,
    detail,
  }: Extract<StatusEvent, { type: 'outage-began' | 'outage-announced' }>) => ({
    kind: 'down' as const,
    began,
    noticed,
    cause,
    detail,
    ...(walk && { walk }),
    ...(shares && { shares }),
  });
  for (const e of events) {
    if ((e.type === 'outage-began' && !e.withheld) || e.type === 'outage-announced') {
      happenings.push({ thread, phase: 'opens', watch, event: down(e) });
    } else if (e.type === 'outage-began' && typeof e.withheld?.follows === 'number') {
      happenings.push({ thread: threadOf(e.withheld.follows), phase: 'joins', watch });
    } else if (e.type === 'outage-follows') {
      happenings.push({ thread: threadOf(e.of), phase: 'joins', watch });
    } else if (e.type === 'outage-ended' && !e.withheld) {
      const event = paused
        ? { kind: 'closed' as const, began: e.began, at, because: 'paused' as const }
        : { kind: 'recovered' as const, began: e.began, ended: e.ended };
      happenings.push({ thread, phase: 'closes', watch, event });
    } else if (
      e.type === 'state' &&
      e.to === 'slow' &&
      slow &&
      !events.some(({ type }) => type === 'warned')
    ) {
      const event = { kind: 'slow' as const, began: e.since, at, ...slow };
      happenings.push({ thread, phase: 'once', watch, event });
    } else if (e.type === 'warned' && !happenings.some(({ phase }) => phase !== 'closes')) {
      const event = { kind: 'warned' as const, at: e.at, cause: e.cause, detail: e.detail };
      happenings.push({ thread, phase: 'once', watch, event });
    }
  }
  return happenings;
}
