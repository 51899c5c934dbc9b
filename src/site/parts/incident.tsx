import { plainMarkdown, renderMarkdown } from '@/core/text/markdown';
import type { PublicIncident } from '@/views/pages/public-incidents';
import { useSheet } from '../frame/context';
import { hrefTo } from '../frame/place';
import { At, Said } from './said';

export function Text({ text, className = 'text' }: { text: string; className?: string }) {
  return <div className={className} dangerouslySetInnerHTML={{ __html: renderMarkdown(text) }} />;
}

function Affected({ affected }: Pick<PublicIncident, 'affected'>) {
  const { speech } = useSheet();
  const named = affected.filter(({ how }) => how !== 'none');
  if (named.length === 0) return null;
  const names = named.map(({ label, how }) =>
    speech.say('affected.one', { name: label, how: speech.say(`how.${how}`) }),
  );
  return <p className="affected">{speech.say('affected', { names: speech.list(names) })}</p>;
}

/** The course of an incident, the newest update first. */
export function Updates({ incident }: { incident: PublicIncident }) {
  const { speech } = useSheet();
  return (
    <ol className="updates">
      {incident.updates.map((update) => (
        <li key={update.at} className="update">
          <span className="when">
            <At at={update.at} />
          </span>
          <div>
            {incident.kind === 'incident' && (
              <strong className="stage">{speech.say(`stage.${update.stage}`)}.</strong>
            )}{' '}
            <Text text={update.body} />
            {update.correctedAt !== null && (
              <span className="when">
                {' '}
                (<Said phrase="corrected" values={{ at: <At at={update.correctedAt} /> }} />)
              </span>
            )}
          </div>
        </li>
      ))}
    </ol>
  );
}

/** What visitors should know now. */
export function Standing({ incident }: { incident: PublicIncident }) {
  const { speech, place } = useSheet();
  const notice = incident.kind === 'notice';
  return (
    <article className={notice ? 'incident notice' : 'incident'} aria-label={incident.title}>
      <h2>
        <a href={hrefTo(place, { sheet: 'incident', id: incident.id })}>{incident.title}</a>
      </h2>
      {notice ? (
        <p className="when">{speech.say('notice')}</p>
      ) : (
        <p className="when">
          <Said phrase="began" values={{ at: <At at={incident.began} /> }} />
        </p>
      )}
      <Affected affected={incident.affected} />
      <Updates incident={incident} />
    </article>
  );
}

/** An incident that is over, as it stands in a diary. */
export function Entry({ incident }: { incident: PublicIncident }) {
  const { speech, place } = useSheet();
  const last = incident.updates[0];
  const told = incident.account || last?.body || '';
  return (
    <li className="entry">
      <p className="when">
        <At at={incident.began} form="short-day" /> ·{' '}
        {speech.length((incident.ended ?? incident.began) - incident.began)}
      </p>
      <h3>
        <a href={hrefTo(place, { sheet: 'incident', id: incident.id })}>{incident.title}</a>
      </h3>
      <p>{shortened(plainMarkdown(told))}</p>
    </li>
  );
}

const MOST_LETTERS = 220;

function shortened(text: string): string {
  return text.length <= MOST_LETTERS ? text : `${text.slice(0, MOST_LETTERS).replace(/\s+\S*$/, '')} …`;
}

/** All of one incident. */
export function Story({ incident }: { incident: PublicIncident }) {
  const { speech } = useSheet();
  const { began, ended, account, kind } = incident;
  return (
    <article className="story">
      <p className="when">
        {ended === null ? (
          <Said phrase="began" values={{ at: <At at={began} /> }} />
        ) : kind === 'incident' ? (
          <Said
            phrase="lasted"
            values={{ length: speech.length(ended - began), from: <At at={began} />, to: <At at={ended} /> }}
          />
        ) : (
          <Said phrase="coming.span" values={{ from: <At at={began} />, to: <At at={ended} /> }} />
        )}
      </p>
      <Affected affected={incident.affected} />
      {account !== '' && (
        <section className="account">
          <h2>{speech.say('account')}</h2>
          <Text text={account} />
        </section>
      )}
      <Updates incident={incident} />
    </article>
  );
}
