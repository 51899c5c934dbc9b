import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import type { ReactNode } from 'react';
import { serverContext } from '@/server/context';
import { ZoneProvider } from '@/ui/form/zone';
import { TypedEarly } from '@/ui/shell/typed-early';
import './globals.css';

export const metadata: Metadata = { title: { default: 'Calm Lantern', template: '%s · Calm Lantern' } };
export const dynamic = 'force-dynamic';

export default async function RootLayout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get('lantern_theme')?.value;
  const chosen = theme === 'dark' || theme === 'light' ? theme : undefined;
  return (
    <html lang="en" data-theme={chosen} suppressHydrationWarning>
      <body>
        <ZoneProvider zone={serverContext().environment.zone}>{children}</ZoneProvider>
        <TypedEarly />
      </body>
    </html>
  );
}
