'use client';

import { X } from 'lucide-react';
import { useEffect } from 'react';
import { toast, Toaster } from 'sonner';
import type { Notice } from '@/core/messages/notice';
import type { Tone } from '@/core/messages/tone';
import { signOf } from '@/core/messages/tone';
import { follow } from '@/ui/live/live-source';
import { playNotes } from './notes';

/** So many are shown at once; older ones stand under Messages. */
const MOST_SHOWN = 4;
/** What is no trouble goes by itself, as long as nobody points at it. */
const STAYS_MS = 20_000;

const INK: Record<Tone, string> = {
  bad: 'text-down-text',
  hand: 'text-late-text',
  fine: 'text-fine',
  note: 'text-muted',
};

function NoticeSheet({ notice, onClose }: { notice: Notice; onClose: () => void }) {
  const { title, lines, link, tone } = notice;
  return (
    <div className="sheet flex w-full gap-3 px-4 py-3 shadow-lg">
      <span aria-hidden className={INK[tone]}>
        {signOf(tone)}
      </span>
      <div className="min-w-0 flex-1">
        <a href={new URL(link, 'http://desk').pathname} className="font-semibold">
          {title}
        </a>
        {lines[0] && <p className="text-muted line-clamp-2 text-[0.875rem]">{lines[0]}</p>}
      </div>
      <button type="button" aria-label={`Put away: ${title}`} className="self-start p-1" onClick={onClose}>
        <X size={16} aria-hidden />
      </button>
    </div>
  );
}

/** Messages for whoever has the desk open, and what was done with how to take it back: they push nothing aside. */
export function Notices() {
  useEffect(
    () =>
      follow('/live', {
        notice: (data) => {
          const notice = data as Notice;
          if (notice.sound) playNotes(notice.tone);
          const goes = notice.tone === 'fine' || notice.tone === 'note';
          toast.custom((id) => <NoticeSheet notice={notice} onClose={() => toast.dismiss(id)} />, {
            id: notice.id,
            duration: goes ? STAYS_MS : Infinity,
          });
        },
      }),
    [],
  );
  return (
    <Toaster
      expand
      position="bottom-right"
      visibleToasts={MOST_SHOWN}
      containerAriaLabel="Messages as they come"
      className="z-40 print:hidden"
      style={{ fontFamily: 'inherit' }}
    />
  );
}
