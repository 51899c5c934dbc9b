'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { AreaField, FormMessage } from '@/ui/form/fields';

/** The addresses that tell whether this machine can reach out; they are asked when they are saved. */
export function UplinkForm({ initial, version }: { initial: readonly string[]; version: string }) {
  const router = useRouter();
  const [text, setText] = useState(initial.join('\n'));
  const [error, setError] = useState<string>();
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const addresses = text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
    const result = await callApi<{ out: boolean | null }>('PATCH', '/own-line', { addresses }, version);
    setBusy(false);
    if (!result.ok) {
      setError(Object.values(result.fields)[0]);
      setSaid(Object.keys(result.fields).length > 0 ? null : { text: result.detail, good: false });
      return;
    }
    setError(undefined);
    setSaid(
      result.value.out
        ? { text: 'Saved, but none of them answers at this moment.', good: false }
        : {
            text: addresses.length === 0 ? 'Saved. Nothing is asked.' : 'Saved. The line holds.',
            good: true,
          },
    );
    router.refresh();
  };
  return (
    <form onSubmit={save} noValidate className="sheet flex flex-col gap-4 p-5" aria-label="Own line">
      <h2>Addresses that tell</h2>
      <AreaField
        label="Up to five, one a line"
        help="A host is asked by ping, host:port by a connection. Loss counts only when all of them fail."
        placeholder={'192.0.2.1\nresolver.ternferry.test:53'}
        rows={5}
        value={text}
        error={error}
        onChange={(event) => setText(event.target.value)}
      />
      <div>
        <Button type="submit" look="strong" disabled={busy}>
          {busy ? 'Asking them…' : 'Save and ask them'}
        </Button>
      </div>
      <FormMessage text={said?.text ?? null} good={said?.good} />
    </form>
  );
}
