import { useSheet } from '../frame/context';

export type Door =
  | { door: 'password'; wrong: boolean; waitMs: number | null }
  | { door: 'sign-in'; address: string }
  | { door: 'gone' };

/** What stands where a page may not be seen, or is not. */
export function DoorSheet({ door }: { door: Door }) {
  const { speech, place } = useSheet();
  if (door.door === 'gone') {
    return (
      <div className="middle door">
        <h1 className="lead">{speech.say('gone.title')}</h1>
        <p>{speech.say('gone.line')}</p>
      </div>
    );
  }
  if (door.door === 'sign-in') {
    return (
      <div className="middle door">
        <h1 className="lead">{speech.say('signin.title')}</h1>
        <p>
          <a href={door.address}>{speech.say('signin.link')}</a>
        </p>
      </div>
    );
  }
  return (
    <div className="middle door">
      <h1 className="lead">{speech.say('password.title')}</h1>
      <form method="post" action={`${place.root}password${place.chosen ? `?lang=${place.chosen}` : ''}`}>
        <label htmlFor="password">{speech.say('password.label')}</label>{' '}
        <input
          id="password"
          name="password"
          type="password"
          autoComplete="current-password"
          required
          maxLength={200}
          aria-describedby={door.wrong || door.waitMs !== null ? 'wrong' : undefined}
        />{' '}
        <button type="submit">{speech.say('password.send')}</button>
      </form>
      {door.waitMs !== null ? (
        <p id="wrong" role="alert">
          {speech.say('password.slow', { length: speech.length(door.waitMs) })}
        </p>
      ) : (
        door.wrong && (
          <p id="wrong" role="alert">
            {speech.say('password.wrong')}
          </p>
        )
      )}
    </div>
  );
}
