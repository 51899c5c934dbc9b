import type { MessageEvent } from '@/core/messages/message';
import type { SaidEvent } from '@/core/messages/said';
import { MINUTE_MS } from '@/core/time/units';
import { threadOf } from '../happen';
import type { WatchFacts } from '../route';
import { nextTellingAt, tellAll } from '../tell';
import { NOTHING_TOLD, type Happening, type Rule, type Setup, type TellingInput } from '../telling';

/** What may be rehearsed, with how it is named in a list. */
export const DRILL_HAPPENINGS = {
  down: 'it is down (a job: it is missed)',
  failed: 'a job failed',
  certificate: 'a certificate ends in days',
} as const;
export type DrillHappening = keyof typeof DRILL_HAPPENINGS;
export const DRILL_HAPPENING_NAMES = Object.keys(DRILL_HAPPENINGS) as DrillHappening[];

/** Some watches whose trouble is made up, and for how long. Times in ms since 1970. */
export interface Drill {
  id: number;
  watches: readonly WatchFacts[];
  happening: DrillHappening;
  began: number;
  /** When it ends by itself. */
  until: number;
}

function eventOf(happening: DrillHappening, kind: string, at: number): MessageEvent {
  if (happening === 'certificate') {
    return { kind: 'warned', at, cause: 'tls.expires-urgent', detail: { left: '3 d' } };
  }
  const missed = kind === 'checkin' ? 'checkin.missed' : 'port.refused';
  const cause = happening === 'failed' ? 'checkin.failed' : missed;
  // What the sentences of these causes name, made up as the rest.
  const detail = { port: 443, deadline: `${new Date(at).toISOString().slice(11, 16)} UTC` };
  return { kind: 'down', began: at, noticed: at, cause, detail };
}

/** How a rehearsal begins, watch by watch: each in a conversation of its own, apart from what is real. */
export function drillBegins({ id, watches, happening, began }: Drill): Happening[] {
  return watches.map((one) => {
    const watch = { ...one, drill: id };
    const event = eventOf(happening, one.kind, began);
    const phase = event.kind === 'warned' ? ('once' as const) : ('opens' as const);
    return { thread: threadOf(one.id, id), phase, watch, event };
  });
}

/** How it ends: what was made up is said to be up again. What has no end has none here either. */
export function drillEnds(drill: Drill, at: number): Happening[] {
  if (drill.happening === 'certificate') return [];
  const event = { kind: 'recovered' as const, began: drill.began, ended: at };
  return drill.watches.map((one) => ({
    thread: threadOf(one.id, drill.id),
    phase: 'closes' as const,
    watch: { ...one, drill: drill.id },
    event,
  }));
}

/** Somebody will be told, so long after it began. */
export interface DrillSaying {
  afterMs: number;
  channelId: number;
  event: SaidEvent;
  /** The watch it is about; null for several. */
  watch: string | null;
  rule: Rule;
}

export interface DrillPlan {
  says: DrillSaying[];
  /** Who will not be told, and why. */
  notes: { afterMs: number; channelId: number | null; routeId: number | null; watch: string; rule: Rule }[];
}

/** What a burst leaves is told within this time of the end. */
const AFTER_MS = 2 * MINUTE_MS;
const MOST = 500;

/** What a rehearsal will say if nobody takes it: the life of what is said itself, run ahead of the clock. */
export function foretellDrill(drill: Drill, setup: Setup): DrillPlan {
  const plan: DrillPlan = { says: [], notes: [] };
  const names = new Map(drill.watches.map(({ id, name }) => [threadOf(id, drill.id), name]));
  let telling = NOTHING_TOLD;
  const step = (inputs: TellingInput[], at: number) => {
    const told = tellAll(telling, inputs, at, setup);
    telling = told.telling;
    const afterMs = at - drill.began;
    for (const { channelId, event, watch, rule } of told.says)
      plan.says.push({ afterMs, channelId, event, watch: watch?.name ?? null, rule });
    for (const { channelId, routeId, rule, thread } of told.notes) {
      // Of what is told once the conversation has the moment in its name.
      const watch = names.get(thread.split('#')[0]!) ?? '';
      plan.notes.push({ afterMs, channelId, routeId, watch, rule });
    }
  };
  const until = (end: number) => {
    for (;;) {
      const due = nextTellingAt(telling, setup.folding);
      if (due === null || due > end || plan.says.length > MOST) return;
      step([{ type: 'tick' }], due);
    }
  };
  const happened = (happening: Happening): TellingInput => ({ type: 'happened', happening });
  step(drillBegins(drill).map(happened), drill.began);
  until(drill.until);
  step(drillEnds(drill, drill.until).map(happened), drill.until);
  until(drill.until + AFTER_MS);
  return plan;
}
