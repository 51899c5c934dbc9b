'use client';

import { accentsOf } from '@/core/pages/look';
import type { PageLook } from '@/core/pages/page';
import { CLASS_NAMES } from '@/core/pages/class-names';
import { Button } from '@/ui/basic/button';
import { AreaField, Field, optionsOf, SelectField, SwitchField, TextField } from '@/ui/form/fields';
import type { ApiForm } from '@/ui/form/use-api-form';
import { PictureFields } from './picture-fields';
import type { PageValues } from './values';

type Form = ApiForm<PageValues>;

/** What is chosen where nobody has chosen a colour yet. */
const FIRST_ACCENT = '#1f6e6a';

function AccentField({ form }: { form: Form }) {
  const { accent } = form.values;
  const found = accent === null ? [] : accentsOf(accent);
  return (
    <Field
      label="Accent colour"
      error={form.errors.accent}
      help={
        accent === null
          ? 'The colours of the product. Choose one of yours for titles, links and buttons.'
          : found
              .map(({ theme, contrast, shown }) => {
                const when = theme === 'light' ? 'by day' : 'by night';
                return shown.toLowerCase() === accent.toLowerCase()
                  ? `${when} ${contrast} to 1, fine`
                  : `${when} ${contrast} to 1, too faint: shown as ${shown}`;
              })
              .join('; ')
      }
    >
      {(props) => (
        <span className="flex items-center gap-2">
          <input
            {...props}
            type="color"
            value={accent ?? FIRST_ACCENT}
            onChange={(event) => form.set({ accent: event.target.value })}
            className="border-edge h-9 w-14 rounded-lg border"
          />
          {accent === null ? (
            <Button onClick={() => form.set({ accent: FIRST_ACCENT })}>Choose one</Button>
          ) : (
            <Button onClick={() => form.set({ accent: null })}>Give it back</Button>
          )}
        </span>
      )}
    </Field>
  );
}

function LinksField({ form }: { form: Form }) {
  const { links } = form.values;
  const change = (at: number, one: Partial<PageLook['links'][number]>) =>
    form.set({ links: links.map((link, i) => (i === at ? { ...link, ...one } : link)) });
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="font-semibold">Links at the top</legend>
      {links.map((link, i) => (
        <div key={i} className="flex flex-wrap items-end gap-2">
          <TextField
            label="Words"
            value={link.text}
            error={form.errors[`links[${i}].text`]}
            onChange={(event) => change(i, { text: event.target.value })}
          />
          <TextField
            label="Address"
            placeholder="https://ternferry.test/"
            value={link.address}
            error={form.errors[`links[${i}].address`]}
            onChange={(event) => change(i, { address: event.target.value })}
          />
          <Button onClick={() => form.set({ links: links.filter((_, at) => at !== i) })}>Take it off</Button>
        </div>
      ))}
      {links.length < 8 && (
        <div>
          <Button onClick={() => form.set({ links: [...links, { text: '', address: '' }] })}>
            Add a link
          </Button>
        </div>
      )}
    </fieldset>
  );
}

/** How the page looks, without writing code; and with, for whoever wants to. */
export function LookFields({ form }: { form: Form }) {
  const { values, set } = form;
  return (
    <>
      <div className="grid gap-4 sm:grid-cols-2">
        <SelectField
          label="Light"
          value={values.theme}
          options={optionsOf({ both: 'as the visitor likes', light: 'by day', dark: 'by night' })}
          onChoose={(theme) => set({ theme: theme as PageLook['theme'] })}
        />
        <AccentField form={form} />
        <SelectField
          label="Letters"
          value={values.letters}
          options={optionsOf({
            lantern: 'a serif that leads, a plain letter to read',
            plain: 'plain letters throughout',
            book: 'a serif throughout',
          })}
          onChoose={(letters) => set({ letters: letters as PageLook['letters'] })}
        />
        <SelectField
          label="Room"
          value={values.density}
          options={optionsOf({ roomy: 'roomy', dense: 'dense' })}
          onChoose={(density) => set({ density: density as PageLook['density'] })}
        />
        <SelectField
          label="Width"
          value={values.width}
          options={optionsOf({ wide: 'wide, with the diary beside', narrow: 'narrow, one below the other' })}
          onChoose={(width) => set({ width: width as PageLook['width'] })}
        />
      </div>
      <PictureFields form={form} />
      <LinksField form={form} />
      <TextField label="Contact" placeholder="harbour office, 555 0142" {...form.field('contact')} />
      <TextField label="Words at the bottom" {...form.field('footer')} />
      <SwitchField
        label="Say that Calm Lantern keeps the page"
        checked={values.credit}
        onChange={(event) => set({ credit: event.target.checked })}
      />
      <details>
        <summary className="cursor-pointer font-semibold">Rules of style of your own</summary>
        <div className="mt-2 flex flex-col gap-2">
          <AreaField
            label="CSS"
            rows={6}
            spellCheck={false}
            placeholder=".lead { letter-spacing: 0.02em; }"
            help="For the classes below. Nothing may be fetched, moved, hidden or covered."
            {...form.field('css')}
          />
          <ul className="text-muted grid gap-x-4 text-[0.8438rem] sm:grid-cols-2">
            {Object.entries(CLASS_NAMES).map(([name, what]) => (
              <li key={name}>
                <code className="code">.{name}</code> {what}
              </li>
            ))}
          </ul>
        </div>
      </details>
    </>
  );
}
