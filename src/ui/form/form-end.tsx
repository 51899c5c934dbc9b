'use client';

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
