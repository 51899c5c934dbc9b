import type { Span } from '@/core/history/spans';
import { dayBeside } from '@/core/pages/days';
import type { PublicStretch } from '@/core/pages/public-line';
import type { PublicDay } from '@/views/pages/public-page';
import type { PublicRow } from '@/views/pages/public-lines';
import { useSheet } from '../frame/context';
import { hrefTo, USUAL_DAYS } from '../frame/place';
import { Lamp } from '../parts/lamp';
import { Line } from '../parts/line';
import { At, Said } from '../parts/said';

/** The hours that are named below a day's line. */
const HOURS = [0, 6, 12, 18, 24];

/** What of a day is told by itself; the rest of it was running. */
function toldOf(line: readonly PublicStretch[]): PublicStretch[] {
  return line.filter(({ kind }) => kind !== 'running');
}

function incidentsFor(view: PublicDay, row: PublicRow, { from, to }: Span) {
  return view.incidents.filter(
    ({ began, ended, affected }) =>
      began < to &&
      (ended === null || ended > from) &&
      (affected.length === 0 || affected.some(({ label, how }) => label === row.label && how !== 'none')),
  );
}

function Stretch({ stretch, row, view }: { stretch: PublicStretch; row: PublicRow; view: PublicDay }) {
  const { speech, place } = useSheet();
  const { from, to, kind } = stretch;
  const goesOn = to >= view.range.to && view.range.to < view.whole.to;
  const before = kind === 'unknown' && row.since !== null && to <= row.since;
  const trouble = kind === 'out' || kind === 'partly' || kind === 'slow';
  return (
    <tr className={`is-${kind}`}>
      <td>
        {goesOn ? (
          <Said phrase="day.on" values={{ from: <At at={from} form="clock" fixed /> }} />
        ) : (
          <Said
            phrase="day.from"
            values={{ from: <At at={from} form="clock" fixed />, to: <At at={to} form="clock" fixed /> }}
          />
        )}
      </td>
      <td className="what">
        {before
          ? speech.say('day.before.it')
          : speech.say(`day.for.${kind as 'out'}`, { length: speech.length(to - from) })}
      </td>
      <td>
        {trouble &&
          incidentsFor(view, row, stretch).map((incident) => (
            <span key={incident.id}>
              {incident.title}{' '}
              <a href={hrefTo(place, { sheet: 'incident', id: incident.id })}>
                {speech.say('incident.story')}
              </a>{' '}
            </span>
          ))}
      </td>
    </tr>
  );
}

function Service({ row, view }: { row: PublicRow; view: PublicDay }) {
  const { speech, zone } = useSheet();
  const told = toldOf(row.line);
  const ran = row.line.some(({ kind }) => kind === 'running');
  const over = view.range.to === view.whole.to;
  const rest = told.length > 0 ? 'day.rest' : over ? 'day.whole' : 'day.so.far';
  const long = view.whole.to - view.whole.from;
  return (
    <article className="day-service" id={`s${row.key}`}>
      <h2>{row.label}</h2>
      {row.shows === 'state' ? (
        <p>
          <Lamp kind={row.state} /> {speech.say(`state.${row.state}`)}
        </p>
      ) : (
        <>
          <Line
            label={row.label}
            of={row.key}
            line={row.line}
            range={view.whole}
            pieces={300}
            leads={0}
            span={speech.at(view.whole.from, zone, 'day')}
          />
          <p className="hours" aria-hidden="true">
            {HOURS.map((hour) => (
              <span key={hour}>
                {hour < 24 ? speech.at(view.whole.from + (hour / 24) * long, zone, 'clock') : zone}
              </span>
            ))}
          </p>
          <table>
            <tbody>
              {told.map((stretch) => (
                <Stretch key={stretch.from} stretch={stretch} row={row} view={view} />
              ))}
              {ran && (
                <tr>
                  <td>{speech.say(rest)}</td>
                  <td>{speech.say('state.running')}</td>
                  <td>
                    {row.times &&
                      speech.say('day.times', {
                        median: speech.ms(row.times.medianMs),
                        most: speech.ms(row.times.mostMs),
                      })}
                  </td>
                </tr>
              )}
            </tbody>
          </table>
        </>
      )}
    </article>
  );
}

/** One day, from midnight to midnight: what happened to each service. */
export function DaySheet({ view }: { view: PublicDay }) {
  const { speech, zone, place } = useSheet();
  const { day, first, whole, now } = view;
  const before = dayBeside(day, -1);
  const after = dayBeside(day, 1);
  const rows = view.sections.flatMap((section) => section.rows);
  return (
    <div className="middle day">
      <h1 className="lead">{speech.at(whole.from, zone, 'day')}</h1>
      <p className="beside-days">
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>{speech.say('day.back')}</a>
        {before >= first && (
          <a rel="prev" href={hrefTo(place, { sheet: 'day', day: before })}>
            {speech.say('day.before', { day: speech.at(whole.from - 1, zone, 'short-day') })}
          </a>
        )}
        {whole.to < now && (
          <a rel="next" href={hrefTo(place, { sheet: 'day', day: after })}>
            {speech.say('day.after', { day: speech.at(whole.to, zone, 'short-day') })}
          </a>
        )}
      </p>
      {rows.length === 0 ? (
        <p className="empty">{speech.say('none')}</p>
      ) : (
        rows.map((row) => <Service key={row.key} row={row} view={view} />)
      )}
    </div>
  );
}
