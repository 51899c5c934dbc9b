'use client';

import { Button, ButtonLink } from '@/ui/basic/button';
import { ChangedMeanwhile } from './changed-meanwhile';
import { FormMessage } from './fields';
import type { ApiForm } from './use-api-form';

interface FormEndProps {
  form: Pick<ApiForm<object>, 'said' | 'meanwhile' | 'busy'>;
  /** Saves over what somebody else has changed. */
  onOver?: () => void;
}

/** What came of a form: saved, refused, or changed by somebody else meanwhile. */
export function FormEnd({ form, onOver }: FormEndProps) {
  return (
    <>
      {form.meanwhile !== null && onOver && (
        <ChangedMeanwhile detail={form.meanwhile} busy={form.busy} onOver={onOver} />
      )}
      <FormMessage text={form.said?.text ?? null} good={form.said?.good} />
    </>
  );
}

interface SaveOrLeaveProps {
  /** What the button says while nothing is on its way. */
  save: string;
  busy: boolean;
  /** Where one goes who leaves all as it was. */
  leave: string;
}

/** The buttons of a form with a page of its own. */
export function SaveOrLeave({ save, busy, leave }: SaveOrLeaveProps) {
  return (
    <div className="flex items-center gap-3">
      <Button type="submit" look="strong" disabled={busy}>
        {busy ? 'Saving…' : save}
      </Button>
      <ButtonLink href={leave}>Leave it</ButtonLink>
    </div>
  );
}
