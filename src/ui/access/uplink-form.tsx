'use client';

import { useRouter } from 'next/navigation';
import { Button } from '@/ui/basic/button';
import { AreaField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

/** The addresses that tell whether this machine can reach out; they are asked when they are saved. */
export function UplinkForm({ initial, version }: { initial: readonly string[]; version: string }) {
  const router = useRouter();
  const form = useApiForm({ text: initial.join('\n') }, { version });
  const save = async (over = false) => {
    const addresses = form.values.text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
    const sent = await form.send<{ out: boolean | null }>('PATCH', '/own-line', { addresses }, over);
    if (!sent) return;
    if (sent.value.out) form.say('Saved, but none of them answers at this moment.');
    else form.say(addresses.length === 0 ? 'Saved. Nothing is asked.' : 'Saved. The line holds.', true);
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label="Own line">
      <h2>Addresses that tell</h2>
      <AreaField
        label="Up to five, one a line"
        help="A host is asked by ping, host:port by a connection. Loss counts only when all of them fail."
        placeholder={'192.0.2.1\nresolver.ternferry.test:53'}
        rows={5}
        {...form.field('text')}
        error={Object.values(form.errors)[0]}
      />
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy ? 'Asking them…' : 'Save and ask them'}
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
