'use client';

import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import type { SettingValues } from '@/ui/settings/setting-value';

interface FindChoiceProps {
  kind: string;
  /** The channel that is changed, where one is. */
  channelId: number | undefined;
  field: { name: string; label: string };
  settings: SettingValues;
  onTake: (value: string) => void;
}

/** Asks the other side what may stand in a field, and offers it. */
export function FindChoice({ kind, channelId, field, settings, onTake }: FindChoiceProps) {
  const [found, setFound] = useState<{ value: string; text: string }[]>([]);
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const find = async () => {
    setBusy(true);
    setSaid('');
    const body = { kind, field: field.name, settings, channelId };
    const result = await callApi<{ value: string; text: string }[]>('POST', '/channel-choices', body);
    setBusy(false);
    setFound(result.ok ? result.value : []);
    if (!result.ok) setSaid(problemText(result));
  };
  return (
    <div className="flex flex-col items-start gap-2">
      <Button disabled={busy} onClick={() => void find()}>
        {busy ? 'Asking…' : `Find: ${field.label.toLowerCase()}`}
      </Button>
      {found.length > 0 && (
        <ul aria-label={`Found: ${field.label.toLowerCase()}`} className="flex flex-wrap gap-2">
          {found.map(({ value, text }) => (
            <li key={value}>
              <Button onClick={() => onTake(value)}>{text}</Button>
            </li>
          ))}
        </ul>
      )}
      <p role="status" className="text-down-text text-[0.875rem] empty:hidden">
        {said}
      </p>
    </div>
  );
}
