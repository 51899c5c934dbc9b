import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchUplinkAddresses, fetchUplinkLosses } from '@/store/history/uplink';
import { ownTroubleText } from '@/core/causes/own-trouble';
import { fetchOwnTroubles } from '@/store/history/own-troubles';
import { Ago } from '@/ui/basic/ago';
import { uplinkVersion } from '@/cases/machine/uplink';
import { proofVersion, readProofOfLife } from '@/cases/machine/proof-of-life';
import { fetchChannels } from '@/store/messages/channels';
import { ProofForm } from '@/ui/access/proof-form';
import { UplinkForm } from '@/ui/access/uplink-form';
import { Live } from '@/ui/live/live';
import { Time } from '@/ui/form/zone';
import { growthText } from '@/core/history/growth';
import { fetchStorage } from '@/store/db/file-size';
import { formatBytes, formatExactDuration } from '@/core/time/duration';
import { requireRight } from '@/app/session';

export const metadata = { title: 'This machine' };

export default async function OwnLinePage() {
  await requireRight('operate');
  const { db, environment } = serverContext();
  const now = requestTime();
  const addresses = await fetchUplinkAddresses(db);
  const losses = await fetchUplinkLosses(db, { limit: 20 });
  const own = await fetchOwnTroubles(db, 20);
  const { proof, lastCall } = await readProofOfLife(db);
  const room = await fetchStorage(db, now);
  const channels = await fetchChannels(db);
  const lost = losses.find((loss) => loss.ended === null);
  return (
    <div className="grid items-start gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <Live source="/live" readAt={now} />
      <div className="flex flex-col gap-5">
        <div>
          <h1>
            {lost ? (
              <>
                This machine cannot reach out for <Ago since={lost.began} now={now} suffix="." />
              </>
            ) : addresses.length === 0 ? (
              'Whether this machine itself can reach out is not asked.'
            ) : (
              'This machine can reach out.'
            )}
          </h1>
          <p className="text-muted mt-1.5">
            When everything seems down at once, it is often only the line of the machine that looks. Name up
            to five addresses that tell: the gateway, and something outside. While all of them fail, looks are
            not observed, no outage opens, and one message says so.
          </p>
        </div>
        <section className="sheet p-4">
          <h2>When the line was lost</h2>
          {losses.length === 0 ? (
            <p className="text-muted mt-1">Never yet. Each loss stands here with its exact length.</p>
          ) : (
            <ol className="mt-1">
              {losses.map((loss) => (
                <li key={loss.id} className="border-rule figures flex gap-6 border-t py-1.5 text-[0.875rem]">
                  <Time at={loss.began} />
                  {loss.ended === null ? (
                    <span className="text-down-text">not over</span>
                  ) : (
                    formatExactDuration(loss.ended - loss.began)
                  )}
                </li>
              ))}
            </ol>
          )}
        </section>
        <section className="sheet p-4">
          <h2>Room on the disk</h2>
          <p className="mt-1">
            What is kept takes {formatBytes(room.usedBytes)}; {formatBytes(room.freeBytes)} are free on its
            disk. {growthText(room.growth, now)}
          </p>
          <p className="text-muted mt-1 text-[0.875rem]">
            Single looks are kept for {environment.keepFindingsDays} days, hours for 400 days, days for five
            years, outages for good.
          </p>
        </section>
        <section className="sheet p-4">
          <h2>Troubles of Calm Lantern itself</h2>
          {own.length === 0 ? (
            <p className="text-muted mt-1">
              None yet. A clock that is set, a full disk, a channel that takes nothing: each stands here.
            </p>
          ) : (
            <ol className="mt-1">
              {own.map((trouble) => (
                <li key={trouble.id} className="border-rule border-t py-1.5">
                  <p>{ownTroubleText(trouble.code, trouble.detail).sentence}</p>
                  <p className="text-muted figures">
                    <Time at={trouble.began} />
                    {trouble.ended === null
                      ? ', not over'
                      : trouble.ended > trouble.began &&
                        `, for ${formatExactDuration(trouble.ended - trouble.began)}`}
                  </p>
                </li>
              ))}
            </ol>
          )}
        </section>
      </div>
      <div className="flex flex-col gap-5">
        <UplinkForm initial={addresses} version={uplinkVersion(addresses)} />
        <div className="flex flex-col gap-2">
          <ProofForm
            initial={{ letter: proof.letter, call: proof.call && { every: proof.call.every } }}
            version={proofVersion(proof)}
            channels={channels.map(({ id, name }) => ({ id, name }))}
            zone={environment.zone}
          />
          {proof.call && (
            <p className="text-muted text-[0.875rem]">
              {lastCall === null ? (
                'The address was not called yet.'
              ) : (
                <>
                  Called <Time at={lastCall.at} />:{' '}
                  <span className={lastCall.ok ? '' : 'text-down-text'}>{lastCall.said}</span>
                </>
              )}
            </p>
          )}
        </div>
      </div>
    </div>
  );
}
