import { serverContext } from '@/server/context';
import { fetchTokens } from '@/store/access/tokens';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { TokenForm } from '@/ui/access/token-form';
import { Link } from '@/ui/basic/link';
import { Time } from '@/ui/form/zone';
import { requireRight } from '@/app/session';

export const metadata = { title: 'API tokens' };

export default async function Access() {
  await requireRight('keep');
  const tokens = await fetchTokens(serverContext().db);
  return (
    <div className="flex flex-col gap-5">
      <div>
        <h1>Who else may come in.</h1>
        <p className="text-muted mt-1.5">
          A token lets a program do over HTTP what you can do here. Each operation stands in the{' '}
          <Link href="/reference" className="underline">
            reference
          </Link>
          ; for programs, in{' '}
          <a href="/api/v1/openapi.json" className="underline">
            /api/v1/openapi.json
          </a>
          .
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <section className="sheet px-5 py-4">
          <h2>Tokens</h2>
          {tokens.length === 0 && <p className="text-muted mt-1">None yet.</p>}
          <ul className="mt-1">
            {tokens.map((token) => (
              <li key={token.id} className="border-rule flex items-center gap-3 border-t py-2.5">
                <div className="flex-1">
                  <p className="font-semibold">{token.name}</p>
                  <p className="text-muted text-[0.8438rem]">
                    made <Time at={token.createdAt} />,{' '}
                    {token.lastUsedAt === null ? (
                      'never used'
                    ) : (
                      <>
                        last used <Time at={token.lastUsedAt} />
                      </>
                    )}
                  </p>
                </div>
                <DeleteThroughApi
                  trigger="Revoke"
                  path={`/tokens/${token.id}`}
                  title={`Revoke “${token.name}”?`}
                  explanation="Programs that use it are refused from now on."
                />
              </li>
            ))}
          </ul>
        </section>
        <TokenForm names={tokens.map((token) => token.name)} />
      </div>
    </div>
  );
}
