'use client';

import { useState } from 'react';
import { MAIL_NAMES, mailRulesOf, readMail, type MailRules } from '@/core/reports/mail-words';
import { optionsOf, SelectField, TextField } from '@/ui/form/fields';
import { SharedField } from './shared-field';
import { SharedText, type SharedParts } from './shared-inputs';

const LISTS = [
  {
    name: 'mailFrom',
    label: 'Mail may come from',
    help: 'Addresses, or @domain; with commas. Empty: anyone.',
  },
  { name: 'mailFailed', label: 'Words for failed', help: 'With commas. They count before all others.' },
  { name: 'mailBegun', label: 'Words for begun', help: 'With commas.' },
  {
    name: 'mailDone',
    label: 'Words for done',
    help: 'With commas. Empty: every mail that says neither failed nor begun.',
  },
] as const;

/** How the mails of a job are read, with a line to try it. */
export function MailFields(parts: SharedParts) {
  const { values, form, set, errors } = parts;
  const [subject, setSubject] = useState('');
  const rules: Partial<MailRules> = Object.fromEntries(
    MAIL_NAMES.map((name) => [name, form.owns(name) ? values[name] : form.held(name)]),
  );
  const { kind, word } = readMail(mailRulesOf(rules), { subject, body: '' });
  const said = kind === 'note' ? 'a note, which changes nothing' : kind;
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      {LISTS.map(({ name, label, help }) => (
        <SharedText key={name} name={name} label={label} help={help} {...parts} />
      ))}
      <SharedField name="mailWhere" label="Words count in" form={form}>
        <SelectField
          label="Words count in"
          help="The body counts only where the subject says nothing."
          error={errors.mailWhere}
          value={values.mailWhere}
          options={optionsOf({ body: 'subject, then body', subject: 'subject only' })}
          onChoose={(one) => set('mailWhere', one)}
        />
      </SharedField>
      <div>
        <TextField
          label="Try a subject"
          placeholder="Backup of the manifest: success"
          value={subject}
          onChange={(event) => setSubject(event.target.value)}
        />
        <p role="status" className="text-muted mt-1 text-[0.8438rem]">
          {subject !== '' && `Taken for ${said}${word === null ? '' : `, by “${word}”`}.`}
        </p>
      </div>
    </div>
  );
}
