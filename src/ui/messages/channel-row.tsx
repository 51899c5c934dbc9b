'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button, ButtonLink } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { Confirm } from '@/ui/basic/confirm';
import type { Some } from '@/views/messages/who-hears';

interface ChannelRowProps {
  id: number;
  name: string;
  /** What kind of channel it is, in words. */
  title: string;
  shown: string;
  enabled: boolean;
  /** Who is told where it takes nothing. */
  fallback: string | null;
  /** Watches that would tell nobody without it. */
  leaves: Some;
}

/** What a channel leaves unheard, in a sentence. */
function leftUnheard({ count, first }: Some): string {
  if (count === 0) return 'Every watch that is heard of now still is.';
  const more = count - first.length;
  return `${first.map(({ name }) => name).join(', ')}${more > 0 ? ` and ${more} more` : ''} would then tell nobody.`;
}

/** One connected channel: test it, rest it, or disconnect it. */
export function ChannelRow({ id, name, title, shown, enabled, fallback, leaves }: ChannelRowProps) {
  const router = useRouter();
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const test = async () => {
    setBusy(true);
    const result = await callApi<{ ok: boolean; said: string }>('POST', `/channels/${id}/test`, {});
    setBusy(false);
    if (!result.ok) setSaid({ text: result.detail, good: false });
    else setSaid({ text: `It answered: ${result.value.said}`, good: result.value.ok });
  };
  const flip = async () => {
    const result = await callApi('PATCH', `/channels/${id}`, { enabled: !enabled });
    setSaid(result.ok ? null : { text: result.detail, good: false });
    router.refresh();
  };
  return (
    <li className="border-rule flex flex-wrap items-center gap-x-3 gap-y-2 border-t py-2.5">
      <div className="min-w-0 flex-1 basis-56">
        <p className="font-semibold">{name}</p>
        <p className="text-muted truncate text-[0.8438rem]">
          {title}: {shown}
          {!enabled && ' · resting: nothing is sent'}
        </p>
        {fallback !== null && (
          <p className="text-muted text-[0.8438rem]">Where it takes nothing, {fallback} is told.</p>
        )}
      </div>
      <Button disabled={busy} onClick={() => void test()}>
        {busy ? 'Sending…' : 'Send a test'}
      </Button>
      <ButtonLink href={`/messages/channels/${id}`} aria-label={`Change ${name}`}>
        Change
      </ButtonLink>
      <Button onClick={() => void flip()}>{enabled ? 'Let it rest' : 'Wake it'}</Button>
      <Confirm
        trigger="Disconnect"
        title={`Disconnect ${name}?`}
        action="Disconnect it"
        onConfirm={async () => {
          const result = await callApi('DELETE', `/channels/${id}`);
          router.refresh();
          return result.ok ? null : result.detail;
        }}
      >
        No more messages go there, and what was sent to it is no longer listed. {leftUnheard(leaves)}
      </Confirm>
      <p
        role="status"
        className={`w-full text-[0.875rem] empty:hidden ${said?.good ? 'text-fine' : 'text-down-text'}`}
      >
        {said?.text}
      </p>
    </li>
  );
}
