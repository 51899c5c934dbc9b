import { requireRight } from '@/app/session';
import { SAID_TITLES } from '@/core/messages/said-titles';
import type { SaidEvent } from '@/core/messages/said';
import { capitalise, countOf } from '@/core/text/words';
import { serverContext } from '@/server/context';
import { fetchChannels } from '@/store/messages/channels';
import { fetchTexts } from '@/store/messages/texts';
import { ButtonLink } from '@/ui/basic/button';
import { Crumbs, MESSAGES } from '@/ui/basic/crumbs';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';

export const metadata = { title: 'Texts of your own' };

export default async function Texts() {
  await requireRight('look');
  const { db } = serverContext();
  const texts = await fetchTexts(db);
  const names = new Map((await fetchChannels(db)).map(({ id, name }) => [id, name]));
  return (
    <div className="flex max-w-4xl flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES]} />
        <h1>
          {texts.length === 0
            ? 'Everything is said in the built-in words.'
            : `${capitalise(countOf(texts.length, 'text'))} of your own.`}
        </h1>
        <p className="text-muted mt-1.5 max-w-3xl">
          A text of your own is said in the place of the built-in one. Where it cannot be filled in, the
          built-in one is said, and the overview says so.
        </p>
      </div>
      <section className="sheet px-5 py-4">
        <div className="flex flex-wrap items-center gap-3">
          <h2 className="mr-auto">Yours</h2>
          <ButtonLink href="/messages/texts/new">Write a text</ButtonLink>
        </div>
        {texts.length === 0 && (
          <p className="text-muted mt-1">
            For example, when anything is down, to the crew room: “{'{{ name }}'} needs somebody:{' '}
            {'{{ why }}'}”
          </p>
        )}
        <ul aria-label="Texts" className="mt-2">
          {texts.map(({ id, channelId, happening, title, body, trouble }) => {
            const when = SAID_TITLES[happening as SaidEvent['kind']] ?? happening;
            const to = channelId === null ? 'every channel' : (names.get(channelId) ?? 'a channel');
            return (
              <li key={id} className="border-rule border-t py-3">
                <div className="flex flex-wrap items-start gap-x-3 gap-y-2">
                  <div className="min-w-0 flex-1 basis-80">
                    <h3 className="font-semibold">
                      When {when}, to {to}
                    </h3>
                    <p className="mt-1 font-mono text-[0.875rem] break-words whitespace-pre-line">
                      {[title, body].filter((part) => part.trim() !== '').join('\n')}
                    </p>
                    {trouble !== null && (
                      <p className="text-down-text mt-1 font-semibold">
                        The built-in text was said instead: {trouble}.
                      </p>
                    )}
                  </div>
                  <ButtonLink
                    href={`/messages/texts/${id}`}
                    aria-label={`Change the text when ${when}, to ${to}`}
                  >
                    Change
                  </ButtonLink>
                  <DeleteThroughApi
                    path={`/message-texts/${id}`}
                    title="Go back to the built-in text?"
                    explanation="What you wrote is gone then."
                  />
                </div>
              </li>
            );
          })}
        </ul>
      </section>
    </div>
  );
}
