import { WHOLE_PAGE, type FollowerChoice } from '@/core/followers/follower';
import { useSheet } from '../frame/context';
import { fileFrom, hrefTo, USUAL_DAYS } from '../frame/place';
import { Said } from '../parts/said';

/** What is shown of following a page by mail. */
export type FollowState =
  | {
      step: 'ask';
      labels: string[];
      mail: string;
      choice: FollowerChoice;
      wrong: 'mail' | 'slow' | null;
      byMail: boolean;
      /** What a browser that is told is bound to; null where none is. */
      pushKey: string | null;
    }
  | { step: 'asked'; mail: string }
  | { step: 'yes'; mail: string }
  | { step: 'own'; mail: string; labels: string[]; choice: FollowerChoice; saved: boolean; off: string }
  | { step: 'off'; mail: string }
  | { step: 'ended' }
  | { step: 'over' };

/** What one wants to hear of: everything, or some lines; maintenance too. */
function Choice({ labels, choice }: { labels: string[]; choice: FollowerChoice }) {
  const { speech } = useSheet();
  return (
    <fieldset>
      <legend>{speech.say('follow.what')}</legend>
      <label>
        <input type="radio" name="which" value="all" defaultChecked={choice.labels === null} />{' '}
        {speech.say('follow.all')}
      </label>
      {labels.length > 1 && (
        <>
          <label>
            <input type="radio" name="which" value="some" defaultChecked={choice.labels !== null} />{' '}
            {speech.say('follow.some')}
          </label>
          <div className="some">
            {labels.map((label) => (
              <label key={label}>
                <input
                  type="checkbox"
                  name="label"
                  value={label}
                  defaultChecked={choice.labels?.includes(label) ?? false}
                />{' '}
                {label}
              </label>
            ))}
          </div>
        </>
      )}
      <label>
        <input type="checkbox" name="maintenance" value="yes" defaultChecked={choice.maintenance} />{' '}
        {speech.say('follow.maintenance')}
      </label>
    </fieldset>
  );
}

function ByMail({ state }: { state: FollowState & { step: 'ask' } }) {
  const { speech } = useSheet();
  const { labels, mail, choice, wrong } = state;
  return (
    <form method="post" className="follow">
      <p>
        <label htmlFor="mail">{speech.say('follow.mail')}</label>
        <input
          id="mail"
          name="mail"
          type="email"
          autoComplete="email"
          required
          maxLength={254}
          defaultValue={mail}
          aria-invalid={wrong === 'mail' ? true : undefined}
          aria-describedby={wrong ? 'wrong' : undefined}
        />
      </p>
      {wrong && (
        <p id="wrong" role="alert">
          {speech.say(wrong === 'mail' ? 'follow.wrong' : 'follow.slow')}
        </p>
      )}
      <Choice labels={labels} choice={choice} />
      <button type="submit">{speech.say('follow.send')}</button>
    </form>
  );
}

/** Being told in this browser; shown by its script where the browser can be. */
function InBrowser({ labels, pushKey }: { labels: string[]; pushKey: string }) {
  const { speech, assets, place } = useSheet();
  const { say } = speech;
  return (
    <>
      <section
        hidden
        className="section"
        data-push-key={pushKey}
        data-on={say('follow.push.on')}
        data-off={say('follow.push.ended')}
        data-refused={say('follow.push.refused')}
        data-failed={say('follow.push.failed')}
      >
        <h2>{say('follow.push')}</h2>
        <p>{say('follow.push.line')}</p>
        <form className="follow">
          <Choice labels={labels} choice={WHOLE_PAGE} />
          <button type="submit">{say('follow.push.yes')}</button>
          <button type="button" hidden>
            {say('follow.push.no')}
          </button>
        </form>
        <p role="status" />
      </section>
      <script src={fileFrom(place, assets('follow.js'))} defer />
    </>
  );
}

function Ask({ state, page }: { state: FollowState & { step: 'ask' }; page: string }) {
  const { speech, place } = useSheet();
  const { labels, byMail, pushKey } = state;
  return (
    <>
      <h1 className="lead">{speech.say('follow.title')}</h1>
      <p>{speech.say(byMail ? 'follow.line' : 'follow.push.only', { page })}</p>
      {byMail && <ByMail state={state} />}
      {pushKey && <InBrowser labels={labels} pushKey={pushKey} />}
      <p>
        <Said
          phrase="follow.else"
          values={{
            atom: <a href={fileFrom(place, 'feed.atom')}>{speech.say('feeds.atom')}</a>,
            json: <a href={fileFrom(place, 'feed.json')}>{speech.say('feeds.json')}</a>,
            calendar: <a href={fileFrom(place, 'maintenance.ics')}>{speech.say('feeds.calendar')}</a>,
          }}
        />
      </p>
    </>
  );
}

function Button({ text }: { text: string }) {
  return (
    <form method="post" className="follow">
      <button type="submit">{text}</button>
    </form>
  );
}

function Content({ state, page }: { state: FollowState; page: string }) {
  const { speech } = useSheet();
  switch (state.step) {
    case 'ask':
      return <Ask state={state} page={page} />;
    case 'asked':
      return (
        <>
          <h1 className="lead">{speech.say('follow.asked.title')}</h1>
          <p>{speech.say('follow.asked.line', { mail: state.mail })}</p>
        </>
      );
    case 'yes':
      return (
        <>
          <h1 className="lead">{speech.say('follow.confirm.title')}</h1>
          <p>{speech.say('follow.confirm.line', { page, mail: state.mail })}</p>
          <Button text={speech.say('follow.confirm.yes')} />
        </>
      );
    case 'own':
      return (
        <>
          <h1 className="lead">{speech.say('follow.own.title')}</h1>
          <p>{speech.say('follow.own.line', { page, mail: state.mail })}</p>
          {state.saved && <p role="status">{speech.say('follow.own.saved')}</p>}
          <form method="post" className="follow">
            <Choice labels={state.labels} choice={state.choice} />
            <button type="submit">{speech.say('follow.own.save')}</button>
          </form>
          <p>
            <a href={state.off}>{speech.say('follow.off')}</a>
          </p>
        </>
      );
    case 'off':
      return (
        <>
          <h1 className="lead">{speech.say('follow.off')}?</h1>
          <p>{speech.say('follow.off.ask', { page, mail: state.mail })}</p>
          <Button text={speech.say('follow.off')} />
        </>
      );
    case 'ended':
      return (
        <>
          <h1 className="lead">{speech.say('follow.off.title')}</h1>
          <p>{speech.say('follow.off.line', { page })}</p>
        </>
      );
    case 'over':
      return (
        <>
          <h1 className="lead">{speech.say('follow.over.title')}</h1>
          <p>{speech.say('follow.over.line')}</p>
        </>
      );
  }
}

/** Following a page by mail: all of it works without any script. */
export function FollowSheet({ state, page }: { state: FollowState; page: string }) {
  const { speech, place } = useSheet();
  return (
    <div className="middle door">
      <Content state={state} page={page} />
      <p>
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>{speech.say('follow.back')}</a>
      </p>
    </div>
  );
}
