import type { ReactNode } from 'react';
import { DeskHeader } from '@/ui/shell/desk-header';
import { FocusOnArrival } from '@/ui/basic/focus-on-arrival';
import { Keys } from '@/ui/shell/keys';
import { Notices } from '@/ui/shell/notices';
import { requireRight } from '@/app/session';

export default async function DeskLayout({ children }: { children: ReactNode }) {
  const { account } = await requireRight('look');
  return (
    <>
      <a href="#content" className="skip bg-button text-button-ink rounded-lg px-3 py-2 font-semibold">
        Skip to the content
      </a>
      <DeskHeader email={account.email} />
      <main id="content" tabIndex={-1} className="mx-auto outline-none max-w-[1280px] px-4 py-5 md:px-8">
        {children}
      </main>
      <Keys />
      <Notices />
      <FocusOnArrival />
    </>
  );
}
