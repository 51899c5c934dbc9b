import type { PublicPage } from '@/views/pages/public-page';
import { useSheet } from '../frame/context';
import { Lamp } from '../parts/lamp';
import { At } from '../parts/said';
import { leadOf } from './page-sheet';

/** The page within a frame of somebody else's: its sentence, what stands, and the way to the rest. */
export function EmbedSheet({ view }: { view: PublicPage }) {
  const { speech, place } = useSheet();
  const rows = view.sections.flatMap((section) => section.rows);
  const wrong = rows.filter(({ state }) => state !== 'running');
  return (
    <div className="embed">
      <h1 className="lead">{leadOf(view, speech)}</h1>
      {view.open.map(({ id, title, began }) => (
        <p key={id}>
          <strong>{title}</strong> <At at={began} />
        </p>
      ))}
      {wrong.length > 0 && (
        <ul>
          {wrong.map((row) => (
            <li key={row.key} className="name">
              <Lamp kind={row.state} />
              <span>
                {row.label} <span className="state">{speech.say(`state.${row.state}`)}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <p>
        <a href={place.root} target="_top">
          {speech.say('embed.more', { title: view.page.title })}
        </a>
      </p>
    </div>
  );
}
