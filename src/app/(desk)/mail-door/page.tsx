import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { fetchWatchNames } from '@/store/watches/watch-facts';
import { Link } from '@/ui/basic/link';
import { Live } from '@/ui/live/live';
import { mailEndpointVersion } from '@/cases/machine/mail-endpoint';
import { MailEndpointForm } from '@/ui/access/mail-endpoint-form';
import { Time } from '@/ui/form/zone';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Reports by mail' };

export default async function MailDoorPage() {
  await requireRight('operate');
  const { db, environment, mailEndpoint } = serverContext();
  const here = environment.host === '127.0.0.1' || environment.host === '::1';
  const settings = await fetchMailEndpoint(db);
  const { seen, problem } = await mailEndpoint.state();
  const names = await fetchWatchNames(
    db,
    seen.flatMap(({ taken }) => taken.map(({ watchId }) => watchId)),
  );
  return (
    <div className="grid items-start gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <Live source="/live" readAt={requestTime()} />
      <div className="flex min-w-0 flex-col gap-5">
        <div>
          <h1>
            {problem !== null
              ? 'Mail cannot be taken in.'
              : settings.open
                ? `Jobs can report by mail, at port ${settings.port}.`
                : 'No mail is taken in.'}
          </h1>
          {problem !== null && <p className="text-down-text mt-1.5 font-semibold">{problem}</p>}
          <p className="text-muted mt-1.5">
            For devices and programs that can send nothing but a mail. Each check-in then has a mail address
            of its own; a word in the subject or the body says whether the job has begun, is done or failed.
            Nothing is ever passed on. Mail counts when it arrives, so a slow mail server makes a job look
            late.
          </p>
          {here && (
            <p className="text-muted mt-1.5">
              Only programs on this machine reach it, for HOST is {environment.host}: a mail server here that
              passes the mails on, or jobs of this machine.
            </p>
          )}
        </div>
        <section className="sheet p-4">
          <h2>What came last</h2>
          {seen.length === 0 && (
            <p className="text-muted mt-1">
              Nothing since the start. A mail is listed here as soon as it comes, with what it was taken for,
              or why it was refused.
            </p>
          )}
          <ol className="mt-1">
            {seen.map((mail, i) => (
              <li key={`${mail.at} ${i}`} className="border-rule border-t py-2">
                <p className="text-muted flex flex-wrap gap-x-3 text-[0.8438rem]">
                  <Time at={mail.at} as="seconds" />
                  <span className="min-w-0 break-all">
                    {mail.from || 'empty sender'} at {mail.client}
                  </span>
                </p>
                {mail.subject !== null && (
                  <p className="min-w-0 break-words">{mail.subject || 'Without a subject'}</p>
                )}
                {mail.refused !== null && (
                  <p className="text-down-text font-semibold">Refused: {withoutCode(mail.refused)}</p>
                )}
                {mail.taken.map(({ watchId, kind, word }) => (
                  <p key={watchId}>
                    <Link href={`/watches/${watchId}`} className="underline">
                      {names.get(watchId) ?? `watch ${watchId}`}
                    </Link>
                    : {kind}
                    {word !== null ? ` (“${word}”)` : kind === 'note' && ', for it has none of the words'}
                  </p>
                ))}
              </li>
            ))}
          </ol>
        </section>
      </div>
      <MailEndpointForm initial={settings} version={mailEndpointVersion(settings)} />
    </div>
  );
}

/** The answer without its enhanced status code (RFC 3463), which is for mail servers. */
function withoutCode(answer: string): string {
  return answer.replace(/^\d\.\d\.\d /, '');
}
