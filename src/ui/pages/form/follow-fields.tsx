'use client';

import { Link } from '@/ui/basic/link';
import { SelectField, SwitchField, TextField } from '@/ui/form/fields';
import type { ApiForm } from '@/ui/form/use-api-form';
import type { PageValues } from './values';

interface FollowFieldsProps {
  form: ApiForm<PageValues>;
  channels: { id: number; name: string }[];
  /** What addresses of the mail door end in; null while it is shut. */
  mailDomain: string | null;
}

const USUAL_PER_HOUR = 100;

/** Whether visitors may be told in their browsers, or ask to be told by mail, and through which mailbox they are. */
export function FollowFields({ form, channels, mailDomain }: FollowFieldsProps) {
  const { values, set, errors } = form;
  const { follow } = values;
  const browsers = (
    <SwitchField
      label="Visitors may be told in their browsers"
      help="By Web Push, without an address; it needs https."
      checked={values.pushes}
      onChange={(event) => set({ pushes: event.target.checked })}
    />
  );
  if (channels.length === 0 && !follow) {
    return (
      <>
        {browsers}
        <p className="text-muted">
          Letters go out through a mail channel. <Link href="/messages">Connect one</Link>, and visitors can
          ask to be told of incidents and maintenance by mail.
        </p>
      </>
    );
  }
  return (
    <>
      {browsers}
      <SelectField
        label="Written to through"
        help="Visitors ask on the page, say yes by a link in a mail, and can end it with one click."
        error={errors['follow.channelId']}
        value={String(follow?.channelId ?? '')}
        options={[
          { value: '', text: 'nobody follows by mail' },
          ...channels.map(({ id, name }) => ({ value: String(id), text: name })),
        ]}
        onChoose={(id) =>
          set({
            follow:
              id === ''
                ? null
                : { perHour: USUAL_PER_HOUR, bounced: mailDomain !== null, ...follow, channelId: Number(id) },
          })
        }
      />
      {follow && (
        <TextField
          label="Mails an hour"
          help="As many as your mail server takes; the others wait, and trouble goes first."
          type="number"
          min={1}
          value={String(follow.perHour)}
          error={errors['follow.perHour']}
          onChange={(event) => set({ follow: { ...follow, perHour: Number(event.target.value) } })}
        />
      )}
      {follow && (
        <SwitchField
          label="What cannot be delivered comes back here"
          help={
            mailDomain === null
              ? 'Through the mail door, which is shut: open it under Mail door first.'
              : `To addresses at ${mailDomain}, through the mail door: an address that is none is put aside after three letters. Your mail server has to pass mails to ${mailDomain} on to it.`
          }
          checked={follow.bounced}
          onChange={(event) => set({ follow: { ...follow, bounced: event.target.checked } })}
        />
      )}
    </>
  );
}
