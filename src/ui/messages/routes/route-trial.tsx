'use client';

import { capitalise, countOf } from '@/core/text/words';
import type { RouteConfig } from '@/core/telling/route-config';
import { callApi } from '@/ui/basic/call-api';
import { Link } from '@/ui/basic/link';
import { PastTrial } from '@/ui/form/past-trial';
import { Time } from '@/ui/form/zone';

interface Tried {
  messages: number;
  atNight: number;
  channels: { channelId: number; messages: number; atNight: number }[];
  outages: number;
  unheard: number;
  inMaintenance: number;
}

interface Trial {
  now: Tried;
  then: Tried;
  unheard: { outageId: number; watchId: number; watch: string; beganAt: string; why: string }[];
}

interface RouteTrialProps {
  routeId: number | undefined;
  /** As it stands in the form. */
  values: RouteConfig & { name: string; enabled: boolean };
  channel: (id: number) => string;
}

function leadingSentence({ now, then }: Trial): string {
  if (then.outages === 0) return 'There was no outage in the last 90 days to try it on.';
  const more = then.messages - now.messages;
  const than = more === 0 ? 'as many as now' : more > 0 ? `${more} more than now` : `${-more} fewer than now`;
  return `${capitalise(countOf(then.outages, 'outage'))} would have made ${countOf(then.messages, 'message')}, ${than}.`;
}

/** One row of the comparison. */
function Row({ what, now, then }: { what: string; now: number; then: number }) {
  return (
    <tr className="border-rule border-t">
      <th scope="row" className="py-1.5 pr-5 font-normal">
        {what}
      </th>
      <td className="figures px-3 text-right">{now}</td>
      <td className={`figures px-3 text-right ${then === now ? '' : 'font-semibold'}`}>{then}</td>
    </tr>
  );
}

function Comparison({ trial, channel }: { trial: Trial; channel: RouteTrialProps['channel'] }) {
  const { now, then, unheard } = trial;
  const ids = [...new Set([...now.channels, ...then.channels].map(({ channelId }) => channelId))];
  const of = ({ channels }: Tried, id: number) =>
    channels.find(({ channelId }) => channelId === id)?.messages ?? 0;
  return (
    <>
      <p className="mt-1 font-serif text-lg">{leadingSentence(trial)}</p>
      {then.outages > 0 && (
        <table className="mt-2 text-left text-[0.875rem]">
          <thead className="text-muted">
            <tr>
              <td />
              <th className="px-3 text-right font-normal">now</th>
              <th className="px-3 text-right font-normal">with this</th>
            </tr>
          </thead>
          <tbody>
            <Row what="messages" now={now.messages} then={then.messages} />
            <Row what="from 22:00 to 07:00" now={now.atNight} then={then.atNight} />
            {ids.map((id) => (
              <Row key={id} what={`to ${channel(id)}`} now={of(now, id)} then={of(then, id)} />
            ))}
            <Row what="outages nobody heard of" now={now.unheard} then={then.unheard} />
          </tbody>
        </table>
      )}
      {unheard.length > 0 && (
        <details className="mt-3 text-[0.875rem]">
          <summary className="cursor-pointer font-semibold">Of these nobody would have heard</summary>
          <ul className="mt-1">
            {unheard.map(({ outageId, watchId, watch, beganAt, why }) => (
              <li key={outageId} className="border-rule border-t py-1.5">
                <Link href={`/watches/${watchId}`}>{watch}</Link>{' '}
                <span className="text-muted figures">
                  <Time at={Date.parse(beganAt)} />
                </span>
                <span className="text-muted block">{why}</span>
              </li>
            ))}
          </ul>
          {then.unheard > unheard.length && (
            <p className="text-muted mt-1">And {then.unheard - unheard.length} before those.</p>
          )}
        </details>
      )}
      {then.inMaintenance > 0 && (
        <p className="text-muted mt-2 text-[0.8438rem]">
          {countOf(then.inMaintenance, 'outage')} came and went within maintenance: nothing is told of those.
        </p>
      )}
    </>
  );
}

/** Tries a route on what was, before it is saved. */
export function RouteTrial({ routeId, values, channel }: RouteTrialProps) {
  const named = values.name.trim() === '' ? { ...values, name: 'new' } : values;
  return (
    <PastTrial<Trial>
      help="What the outages of the last 90 days would have said, as the routes are now and with this one."
      of={JSON.stringify(values)}
      ask={() => callApi('POST', '/route-trials', { ...named, routeId: routeId ?? null })}
    >
      {(trial) => <Comparison trial={trial} channel={channel} />}
    </PastTrial>
  );
}
