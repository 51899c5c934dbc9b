import type { PublicRow } from '@/views/pages/public-lines';
import type { PublicPage } from '@/views/pages/public-page';
import { useSheet } from '../frame/context';
import { At, Said } from './said';

/** So many of what a figure leaves out are named with their reason. */
const MOST_LEFT_OUT = 3;
/** A figure names how long was looked at where that is less than this part of its span. */
const WELL_OBSERVED = 0.9;

function sinceForm(at: number, now: number) {
  return now - at < 36 * 3_600_000 ? ('moment' as const) : ('short-day' as const);
}

/** The share of the time looked at, and what it stands on where that is not the whole span. */
export function Figure({ row, view }: { row: PublicRow; view: PublicPage }) {
  const { speech } = useSheet();
  const { uptime, observedMs } = row.figure;
  const begun = row.since ?? view.range.from;
  const thin = uptime !== null && observedMs < (view.range.to - begun) * WELL_OBSERVED;
  return (
    <span className="figure">
      {speech.share(uptime)}
      {row.since !== null && (
        <small>
          <Said
            phrase="uptime.since"
            values={{ at: <At at={row.since} form={sinceForm(row.since, view.now)} /> }}
          />
        </small>
      )}
      {thin && <small>{speech.say('uptime.observed', { length: speech.length(observedMs) })}</small>}
      {row.leftOut.slice(0, MOST_LEFT_OUT).map(({ from, to, reason }) => (
        <small key={from} className="without">
          {speech.say('uptime.without', {
            length: speech.length(to - from),
            day: speech.at(from, view.zone, 'short-day'),
            why: reason,
          })}
        </small>
      ))}
      {row.leftOut.length > MOST_LEFT_OUT && (
        <small>{speech.say('uptime.without.more', { n: row.leftOut.length - MOST_LEFT_OUT })}</small>
      )}
      {row.times && <small>{speech.say('usual.time', { ms: speech.ms(row.times.medianMs) })}</small>}
    </span>
  );
}
