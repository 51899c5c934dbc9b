import type { PublicWindow } from '@/views/pages/public-incidents';
import { useSheet } from '../frame/context';
import { fileFrom } from '../frame/place';
import { Text } from './incident';
import { At, Said } from './said';

/** Maintenance that is announced, or under way. */
export function Window({ window, now }: { window: PublicWindow; now: number }) {
  const { speech, place } = useSheet();
  return (
    <article className="maintenance">
      <h3>{window.title}</h3>
      <p className="when">
        <Said
          phrase="coming.span"
          values={{ from: <At at={window.begins} />, to: <At at={window.ends} /> }}
        />
        {window.begins <= now && <> · {speech.say('coming.now')}</>}
      </p>
      {window.labels.length > 0 && <p>{speech.list(window.labels)}</p>}
      {window.text !== '' && <Text text={window.text} />}
      <p>
        <a href={fileFrom(place, 'maintenance.ics')}>{speech.say('coming.calendar')}</a>
      </p>
    </article>
  );
}
