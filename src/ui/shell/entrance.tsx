import type { ReactNode } from 'react';
import { LanternMark } from '@/ui/basic/lantern';

/** The screen before the desk. */
export function Entrance({
  sentence,
  below,
  children,
}: {
  sentence: string;
  below: string;
  children: ReactNode;
}) {
  return (
    <main className="mx-auto flex max-w-md flex-col gap-5 px-5 py-16">
      <p className="flex items-center gap-2 font-serif text-xl">
        <LanternMark size={30} /> Calm Lantern
      </p>
      <div>
        <h1>{sentence}</h1>
        <p className="text-muted mt-2">{below}</p>
      </div>
      <div className="sheet p-6">{children}</div>
    </main>
  );
}
