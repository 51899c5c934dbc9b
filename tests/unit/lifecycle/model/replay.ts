import { availabilityOf, type Stretch } from '@/core/history/availability';
import { calmLine, worstWithin } from '@/core/history/calm-line';
import { decide } from '@/core/lifecycle/decide';
import type { Span } from '@/core/history/spans';
import { newStatus, type Input, type Rules, type StatusEvent, type Upstream } from '@/core/lifecycle/status';

/** What is given to `decide`, in the order of time. */
export interface Step {
  input: Input;
  now: number;
}

/** One outage as a person would tell of it. */
export interface ToldOutage {
  began: number;
  /** Null while it goes on. */
  ended: number | null;
  /** When somebody was told of it; null where nobody was. */
  told: number | null;
}

/** What the product makes of a history: its outages, the stretches it keeps, and the line it draws. */
export function replay(
  rules: Rules,
  steps: readonly Step[],
  range: Span,
  upstreamAt: (now: number) => Upstream | undefined = () => undefined,
) {
  let status = newStatus(range.from);
  const events: StatusEvent[] = [];
  for (const { input, now } of steps) {
    const decision = decide(rules, status, input, now, upstreamAt(now));
    status = decision.status;
    events.push(...decision.events);
  }
  const outages: ToldOutage[] = [];
  const stretches: Stretch[] = [];
  const states: Stretch[] = [];
  for (const event of events) {
    if (event.type === 'state') {
      while (states.length > 0 && states.at(-1)!.from >= event.at) states.pop();
      const from = states.at(-1)?.to ?? range.from;
      if (event.at > from)
        states.push({ from, to: event.at, kind: event.at < event.since ? event.to : event.from });
    } else if (event.type === 'unobserved') {
      stretches.push({ from: event.from, to: event.to, kind: 'unobserved' });
    } else if (event.type === 'outage-began') {
      outages.push({ began: event.began, ended: null, told: event.withheld ? null : event.noticed });
    } else if (event.type === 'outage-announced') outages.at(-1)!.told = event.noticed;
    else if (event.type === 'outage-ended') outages.at(-1)!.ended = event.ended;
  }
  stretches.push(...states, { from: status.since, to: range.to, kind: status.state });
  const spans = outages.map(({ began, ended }) => ({ from: began, to: ended ?? range.to }));
  const line = calmLine(range, stretches, spans);
  return {
    outages,
    line,
    kindAt: (at: number) => worstWithin(line, at, at),
    figures: availabilityOf(range, stretches, spans),
  };
}
