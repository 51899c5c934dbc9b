'use client';

import { Button } from '@/ui/basic/button';
import { KeptPassword, SwitchField, TextField } from '@/ui/form/fields';
import type { ApiForm } from '@/ui/form/use-api-form';
import { Time } from '@/ui/form/zone';
import type { PageValues } from './values';

interface CopyFieldsProps {
  form: ApiForm<PageValues>;
  /** The folder copies are kept in; null where none is set. */
  folder: string | null;
  hasCopyPassword: boolean;
  state: { copiedAt: number | null; problem: string | null };
}

/** A copy of the page elsewhere, so that it outlives this machine. */
export function CopyFields({ form, folder, hasCopyPassword, state }: CopyFieldsProps) {
  const { values, set, errors } = form;
  const { copyTo } = values;
  if (values.audience !== 'everyone') {
    return (
      <p className="text-muted">Only a page for everyone can be copied: elsewhere nobody asks who comes.</p>
    );
  }
  return (
    <>
      {folder === null ? (
        <p className="text-muted">
          Name a folder in LANTERN_COPIES, and copies can be kept there: any web server can show them.
        </p>
      ) : (
        <SwitchField
          label={`Keep a copy in ${folder}/${values.slug || '…'}`}
          checked={values.copied && copyTo === null}
          disabled={copyTo !== null}
          onChange={(event) => set({ copied: event.target.checked })}
        />
      )}
      {copyTo === null ? (
        <div>
          <Button onClick={() => set({ copyTo: { address: '', user: '' } })}>
            Put it on a web server instead
          </Button>
        </div>
      ) : (
        <div className="flex flex-col gap-3">
          <TextField
            label="Put at"
            placeholder="https://files.ternferry.test/status/"
            help="By PUT, or WebDAV. The page with its feeds, on each change."
            value={copyTo.address}
            error={errors['copyTo.address']}
            onChange={(event) => set({ copyTo: { ...copyTo, address: event.target.value } })}
          />
          <div className="grid gap-3 sm:grid-cols-2">
            <TextField
              label="User"
              value={copyTo.user}
              error={errors['copyTo.user']}
              onChange={(event) => set({ copyTo: { ...copyTo, user: event.target.value } })}
            />
            <KeptPassword
              label="Password there"
              stands={hasCopyPassword}
              rule="May be empty."
              {...form.field('copyPassword')}
            />
          </div>
          <div>
            <Button onClick={() => set({ copyTo: null, copyPassword: '' })}>Put it nowhere</Button>
          </div>
        </div>
      )}
      {state.problem !== null ? (
        <p className="text-down-text">The last copy could not be made: {state.problem}</p>
      ) : (
        state.copiedAt !== null && (
          <p className="text-muted">
            The last copy was made <Time at={state.copiedAt} />.
          </p>
        )
      )}
    </>
  );
}
