'use client';

import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import type { SettingValues } from '@/ui/settings/setting-value';

interface ThisDeviceProps {
  /** Whether the device has told already where it is pushed to. */
  isOn: boolean;
  onTake: (settings: SettingValues) => void;
}

/** Why a device cannot be switched on, in words; null where it can. */
function obstacle(): string | null {
  if (!window.isSecureContext) {
    return 'Browsers take pushes only from a desk that is reached by https, or on this very machine.';
  }
  if (!('serviceWorker' in navigator) || !('PushManager' in window)) {
    return 'This browser takes no pushes. On a phone, put the desk on its home screen first, and open it from there.';
  }
  if (Notification.permission === 'denied') {
    return 'This browser was told to show nothing of this desk. Allow it in its settings for this site.';
  }
  return null;
}

/** Asks the browser where this device is pushed to. Throws with a sentence. */
async function subscribe(publicKey: string): Promise<SettingValues> {
  const worker = await navigator.serviceWorker.register('/sw.js');
  await navigator.serviceWorker.ready;
  if ((await Notification.requestPermission()) !== 'granted') {
    throw new Error('The browser was not allowed to show messages of this desk.');
  }
  // One made for another desk, or with other keys, would be refused.
  await (await worker.pushManager.getSubscription())?.unsubscribe();
  const made = await worker.pushManager.subscribe({ userVisibleOnly: true, applicationServerKey: publicKey });
  const { endpoint = '', keys = {} } = made.toJSON();
  return { endpoint, p256dh: keys.p256dh ?? '', auth: keys.auth ?? '' };
}

/** Switches the device on that somebody sits at. */
export function ThisDevice({ isOn, onTake }: ThisDeviceProps) {
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const ask = async () => {
    const why = obstacle();
    if (why) return setSaid(why);
    setBusy(true);
    setSaid('');
    const key = await callApi<{ publicKey: string }>('POST', '/push-key', {});
    try {
      if (!key.ok) throw new Error(problemText(key));
      onTake(await subscribe(key.value.publicKey));
    } catch (error) {
      setSaid(`It could not be switched on: ${(error as Error).message}`);
    }
    setBusy(false);
  };
  return (
    <div className="flex flex-col items-start gap-2">
      <Button disabled={busy} onClick={() => void ask()}>
        {busy ? 'Asking the browser…' : isOn ? 'Ask the browser again' : 'Switch this device on'}
      </Button>
      <p
        role="status"
        className={`text-[0.875rem] empty:hidden ${said === '' ? 'text-fine' : 'text-down-text'}`}
      >
        {said ||
          (isOn ? 'The browser said where this device is pushed to. Give it a name, and connect it.' : '')}
      </p>
    </div>
  );
}
