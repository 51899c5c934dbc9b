import type { ReactNode } from 'react';
import { serverContext } from '../../server/context';
import { fetchNamedWatches } from '../../store/watches';
import { DeskHeader } from '../../ui/desk-header';
import { Keys } from '../../ui/keys';
import { requireAccount } from '../session';

export default async function DeskLayout({ children }: { children: ReactNode }) {
  const account = await requireAccount();
  const watches = await fetchNamedWatches(serverContext().db);
  return (
    <>
      <DeskHeader email={account.email} watches={watches} />
      <main className="mx-auto max-w-[1280px] px-4 py-5 md:px-8">{children}</main>
      <Keys />
    </>
  );
}
