import type { PublicDiary, PublicStory } from '@/views/pages/public-page';
import { daySpan } from '@/core/pages/days';
import { useSheet } from '../frame/context';
import { hrefTo, USUAL_DAYS } from '../frame/place';
import { Entry, Story } from '../parts/incident';

function monthName(month: string, speech: ReturnType<typeof useSheet>['speech'], zone: string): string {
  return speech.at(daySpan(`${month}-15`, zone)!.from, zone, 'month');
}

/** All incidents that are over, month by month, and searched. */
export function DiarySheet({ view }: { view: PublicDiary }) {
  const { speech, zone, place } = useSheet();
  const { month, words, incidents, months } = view;
  return (
    <div className="middle diary">
      <h1 className="lead">{month === null ? speech.say('diary') : monthName(month, speech, zone)}</h1>
      <p className="beside-days">
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>{speech.say('day.back')}</a>
      </p>
      {!place.filed && (
        <form
          method="get"
          action={hrefTo({ ...place, chosen: null }, { sheet: 'diary', month: null })}
          role="search"
        >
          {place.chosen && <input type="hidden" name="lang" value={place.chosen} />}
          <label htmlFor="words">{speech.say('diary.search')}</label>{' '}
          <input id="words" name="words" type="search" defaultValue={words ?? ''} maxLength={100} />{' '}
          <button type="submit">{speech.say('diary.search')}</button>
        </form>
      )}
      {words !== null && <p role="status">{speech.say('diary.found', { n: incidents.length, words })}</p>}
      {incidents.length > 0 ? (
        <ol>
          {incidents.map((incident) => (
            <Entry key={incident.id} incident={incident} />
          ))}
        </ol>
      ) : (
        month !== null && (
          <p className="empty">{speech.say('diary.month.none', { month: monthName(month, speech, zone) })}</p>
        )
      )}
      {months.length > 0 && (
        <nav className="months" aria-label={speech.say('diary.all')}>
          {months.map((one) => (
            <a
              key={one}
              href={hrefTo(place, { sheet: 'diary', month: one })}
              aria-current={one === month ? 'true' : undefined}
            >
              {monthName(one, speech, zone)}
            </a>
          ))}
        </nav>
      )}
    </div>
  );
}

/** One incident or notice, at an address of its own. */
export function StorySheet({ view }: { view: PublicStory }) {
  const { speech, place } = useSheet();
  return (
    <div className="middle">
      <h1 className="lead">{view.incident.title}</h1>
      <p className="beside-days">
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>{speech.say('day.back')}</a>
        <a href={hrefTo(place, { sheet: 'diary', month: null })}>{speech.say('diary')}</a>
      </p>
      <Story incident={view.incident} />
    </div>
  );
}
