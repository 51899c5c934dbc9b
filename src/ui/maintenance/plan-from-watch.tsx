'use client';

import { HOUR_MS } from '@/core/time/units';
import { ChevronDown } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { callApi, problemText } from '@/ui/basic/call-api';
import { Button } from '@/ui/basic/button';

/** The next eight in the morning by the clocks of this browser. */
function nextMorning(now: number): number {
  const morning = new Date(now);
  morning.setHours(8, 0, 0, 0);
  if (morning.getTime() <= now) morning.setDate(morning.getDate() + 1);
  return morning.getTime();
}

type Until = (now: number) => number;

function planFromNow(watchId: number, until: Until) {
  const now = Date.now();
  return callApi('POST', '/windows', {
    // The public reads the title; what the watch is called within is not for it.
    title: 'Maintenance',
    watchIds: [watchId],
    from: new Date(now).toISOString(),
    until: new Date(until(now)).toISOString(),
  });
}

const CHOICES: { text: string; until: Until }[] = [
  { text: 'For an hour from now', until: (now) => now + HOUR_MS },
  { text: 'For four hours from now', until: (now) => now + 4 * HOUR_MS },
  { text: 'Until eight in the morning', until: nextMorning },
];

const ITEM = 'data-[highlighted]:bg-quiet cursor-pointer rounded-md px-2 py-1.5 outline-none';

/** Puts one watch under maintenance in two clicks, or leads to where it is planned. */
export function PlanFromWatch({ watchId }: { watchId: number }) {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const plan = async (until: Until) => {
    const result = await planFromNow(watchId, until);
    setProblem(result.ok ? '' : problemText(result));
    router.refresh();
  };
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <Button>
            Maintenance
            <ChevronDown size={14} aria-hidden />
          </Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" className="sheet z-30 p-1.5 shadow-lg">
            {CHOICES.map(({ text, until }) => (
              <DropdownMenu.Item key={text} className={ITEM} onSelect={() => void plan(until)}>
                {text}
              </DropdownMenu.Item>
            ))}
            <DropdownMenu.Item
              className={ITEM}
              onSelect={() => router.push(`/maintenance/new?watch=${watchId}`)}
            >
              Plan it…
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <span role="alert" className="text-down-text text-[0.875rem] empty:hidden">
        {problem}
      </span>
    </>
  );
}
