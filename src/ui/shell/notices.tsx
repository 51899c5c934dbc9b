'use client';

import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Notice } from '@/core/messages/notice';
import type { Tone } from '@/core/messages/tone';
import { signOf } from '@/core/messages/tone';
import { follow } from '@/ui/live/live-source';
import { playNotes } from './notes';

/** So many are shown at once; older ones stand under Messages. */
const MOST_SHOWN = 4;
/** What is no trouble goes by itself. */
const STAYS_MS = 20_000;

const INK: Record<Tone, string> = {
  bad: 'text-down-text',
  hand: 'text-late-text',
  fine: 'text-fine',
  note: 'text-muted',
};

/** Messages for whoever has the desk open: they stay until they are read, and push nothing aside. */
export function Notices() {
  const [notices, setNotices] = useState<Notice[]>([]);
  const drop = (id: string) => setNotices((all) => all.filter((one) => one.id !== id));
  useEffect(() => {
    const timers = new Set<ReturnType<typeof setTimeout>>();
    const leave = follow('/live', {
      notice: (data) => {
        const notice = data as Notice;
        setNotices((all) => [notice, ...all.filter(({ id }) => id !== notice.id)].slice(0, MOST_SHOWN));
        if (notice.sound) playNotes(notice.tone);
        if (notice.tone === 'fine' || notice.tone === 'note') {
          timers.add(setTimeout(() => drop(notice.id), STAYS_MS));
        }
      },
    });
    return () => {
      leave();
      for (const timer of timers) clearTimeout(timer);
    };
  }, []);
  return (
    <div
      role="status"
      aria-label="Messages as they come"
      className="fixed right-4 bottom-4 z-40 flex w-[min(24rem,calc(100vw-2rem))] flex-col gap-2 print:hidden"
    >
      {notices.map(({ id, title, lines, link, tone }) => (
        <div key={id} className="sheet flex gap-3 px-4 py-3 shadow-lg">
          <span aria-hidden className={INK[tone]}>
            {signOf(tone)}
          </span>
          <div className="min-w-0 flex-1">
            <a href={new URL(link, 'http://desk').pathname} className="font-semibold">
              {title}
            </a>
            {lines[0] && <p className="text-muted line-clamp-2 text-[0.875rem]">{lines[0]}</p>}
          </div>
          <button
            type="button"
            aria-label={`Put away: ${title}`}
            className="self-start p-1"
            onClick={() => drop(id)}
          >
            <X size={16} aria-hidden />
          </button>
        </div>
      ))}
    </div>
  );
}
