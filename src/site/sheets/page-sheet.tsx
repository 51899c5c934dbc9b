import { leadSentence } from '@/core/pages/lead';
import { LINE_DAYS } from '@/core/pages/page';
import { dayBeside, troubledDays } from '@/core/pages/days';
import { dateAt } from '@/core/time/zone-time';
import type { PublicPage } from '@/views/pages/public-page';
import type { PublicRow } from '@/views/pages/public-lines';
import { useSheet } from '../frame/context';
import { fileFrom, hrefTo } from '../frame/place';
import { Figure } from '../parts/figure';
import { Entry, Standing } from '../parts/incident';
import { Lamp } from '../parts/lamp';
import { Line } from '../parts/line';
import { At, Said } from '../parts/said';
import { Window } from '../parts/window';

/** All lines of a page together are drawn in at most so many pieces, and each in at least so many. */
const PIECES = 24_000;
const FEWEST_PIECES = 24;
const MOST_PIECES = 300;

/** As many days of all lines together lead to their sheets; a page of a few lines leads to each. */
const LEADS = 9000;
const FEWEST_LEADS = 3;
/** The table names so many of a line; the sheets of days lead on. */
const MOST_NAMED = 10;

export function leadsFor(rows: number): number {
  return Math.max(FEWEST_LEADS, Math.floor(LEADS / Math.max(1, rows)));
}

export function piecesFor(rows: number): number {
  return Math.min(MOST_PIECES, Math.max(FEWEST_PIECES, Math.floor(PIECES / Math.max(1, rows))));
}

function nearDay({ now, zone }: PublicPage, name: 'today' | 'yesterday') {
  const today = dateAt(now, zone);
  return name === 'today' ? today : dayBeside(today, -1);
}

/** Lines that say nothing any more are said to: where all is unknown, and was looked at once, nobody looks. */
const STALE_MS = 10 * 60_000;

function isStale({ sections, lookedAt, now }: PublicPage): boolean {
  const rows = sections.flatMap((section) => section.rows);
  const blind = rows.length > 0 && rows.every(({ state }) => state === 'unknown');
  return blind && lookedAt !== null && now - lookedAt > STALE_MS;
}

/** Of today the time is enough. */
function lookedForm(at: number, now: number) {
  return now - at < 12 * 3_600_000 ? ('clock' as const) : ('moment' as const);
}

interface ServiceProps {
  row: PublicRow;
  view: PublicPage;
  pieces: number;
  leads: number;
}

function Service({ row, view, pieces, leads }: ServiceProps) {
  const { speech } = useSheet();
  const span = speech.say('span', { days: view.days });
  return (
    <li className={`service service-${row.state}`} id={`s${row.key}`}>
      <span className="name">
        <Lamp kind={row.state} />
        <span>
          <span className="label">{row.label}</span>{' '}
          <span className={row.state === 'running' ? 'state unseen' : 'state'}>
            {speech.say(`state.${row.state}`)}
          </span>
          {row.description && <small className="description">{row.description}</small>}
        </span>
      </span>
      {row.shows !== 'state' && (
        <>
          <Line
            label={row.label}
            of={row.key}
            line={row.line}
            range={view.range}
            pieces={pieces}
            leads={leads}
            span={span}
          />
          <Figure row={row} view={view} />
        </>
      )}
    </li>
  );
}

/** The same as the lines, for whoever cannot see them, and on paper. */
function Table({ view }: { view: PublicPage }) {
  const { speech, zone, place } = useSheet();
  const rows = view.sections.flatMap((section) => section.rows);
  return (
    <details className="table">
      <summary>{speech.say('table.caption')}</summary>
      <table>
        <thead>
          <tr>
            <th scope="col">{speech.say('table.service')}</th>
            <th scope="col">{speech.say('table.state')}</th>
            <th scope="col">{speech.say('table.uptime')}</th>
            <th scope="col">{speech.say('table.trouble')}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const all = troubledDays(row.line, zone);
            const days = all.slice(-MOST_NAMED);
            return (
              <tr key={row.key}>
                <th scope="row">{row.label}</th>
                <td>{speech.say(`state.${row.state}`)}</td>
                <td>{row.shows === 'state' ? '' : speech.share(row.figure.uptime)}</td>
                <td>
                  {days.length === 0
                    ? speech.say('table.none')
                    : days.map(({ day, from }) => (
                        <span key={day}>
                          <a href={`${hrefTo(place, { sheet: 'day', day })}#s${row.key}`}>
                            {speech.at(from, zone, 'short-day')}
                          </a>{' '}
                        </span>
                      ))}
                  {all.length > days.length && `+ ${all.length - days.length}`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

function Beside({ view }: { view: PublicPage }) {
  const { speech, place } = useSheet();
  const span = speech.say('span', { days: view.days });
  const standing = view.open.length > 0;
  return (
    <aside className="beside">
      {view.coming.length > 0 && (
        <section>
          <h2>{speech.say('coming')}</h2>
          {view.coming.map((window) => (
            <Window key={window.id} window={window} now={view.now} />
          ))}
        </section>
      )}
      <section className="diary">
        <h2>{speech.say('diary')}</h2>
        {view.past.length === 0 ? (
          <p className="empty">{speech.say(standing ? 'diary.none.other' : 'diary.none', { span })}</p>
        ) : (
          <ol>
            {view.past.map((incident) => (
              <Entry key={incident.id} incident={incident} />
            ))}
          </ol>
        )}
        <p>
          <a href={hrefTo(place, { sheet: 'diary', month: null })}>{speech.say('diary.all')}</a>
        </p>
      </section>
      <section className="feeds">
        <h2>{speech.say('feeds.title')}</h2>
        <p>{speech.say('feeds.line')}</p>
        <p>
          {(view.page.follow ?? view.page.pushes) && !place.filed && (
            <>
              <a href={fileFrom(place, place.chosen ? `follow?lang=${place.chosen}` : 'follow')}>
                {speech.say(view.page.follow ? 'follow.link' : 'follow.push.link')}
              </a>{' '}
              ·{' '}
            </>
          )}
          <a href={fileFrom(place, 'feed.atom')}>{speech.say('feeds.atom')}</a> ·{' '}
          <a href={fileFrom(place, 'feed.json')}>{speech.say('feeds.json')}</a> ·{' '}
          <a href={fileFrom(place, 'maintenance.ics')}>{speech.say('feeds.calendar')}</a>
        </p>
      </section>
    </aside>
  );
}

/** What leads the page: the person's own words while they stand, else the sentence made from the facts. */
export function leadOf(view: PublicPage, speech: ReturnType<typeof useSheet>['speech']): string {
  const { lead } = view.page;
  if (lead && lead.until > view.now) return lead.words;
  const rows = view.sections.flatMap((section) => section.rows);
  return leadSentence({ rows, openIncidents: view.open.length }, speech);
}

/** The page itself: a sentence first, then what stands, the lines, and what is coming and was. */
export function PageSheet({ view }: { view: PublicPage }) {
  const { speech, place } = useSheet();
  const rows = view.sections.reduce((sum, section) => sum + section.rows.length, 0);
  const pieces = piecesFor(rows);
  const leads = leadsFor(rows);
  return (
    <div className="columns">
      <div className="middle">
        <h1 className="lead">{leadOf(view, speech)}</h1>
        <p className="looked">
          {view.lookedAt === null ? (
            speech.say('looked.never')
          ) : (
            <Said
              phrase={isStale(view) ? 'stale.snapshot' : 'looked'}
              values={{ at: <At at={view.lookedAt} form={lookedForm(view.lookedAt, view.now)} /> }}
            />
          )}{' '}
          {view.page.intro}
        </p>
        {view.open.map((incident) => (
          <Standing key={incident.id} incident={incident} />
        ))}
        {view.notices.map((notice) => (
          <Standing key={notice.id} incident={notice} />
        ))}
        {view.sections.map((section, i) => (
          <section key={i} className="section">
            <div className="heading">
              <h2>{section.title || speech.say('services')}</h2>
              {i === 0 && (
                <p className="spans" aria-label={speech.say('span.choose')} role="group">
                  {LINE_DAYS.map((days) => (
                    <a
                      key={days}
                      href={hrefTo(place, { sheet: 'page', days })}
                      aria-current={days === view.days ? 'true' : undefined}
                    >
                      {speech.say('span', { days })}
                    </a>
                  ))}
                  {(['today', 'yesterday'] as const).map((name) => (
                    <a key={name} href={hrefTo(place, { sheet: 'day', day: nearDay(view, name) })}>
                      {speech.say(`day.${name}`)}
                    </a>
                  ))}
                </p>
              )}
            </div>
            <ul>
              {section.rows.map((row) => (
                <Service key={row.key} row={row} view={view} pieces={pieces} leads={leads} />
              ))}
            </ul>
          </section>
        ))}
        {view.sections.length === 0 ? <p className="empty">{speech.say('none')}</p> : <Table view={view} />}
      </div>
      <Beside view={view} />
    </div>
  );
}
