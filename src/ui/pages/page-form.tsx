'use client';

import { useRouter } from 'next/navigation';
import { useState, type ComponentProps, type ReactNode } from 'react';
import { DAY_MS } from '@/core/time/units';
import { LANGUAGES, type Language } from '@/core/languages/language';
import { Button } from '@/ui/basic/button';
import { AreaField, OfferedField, optionsOf, SelectField, TextField } from '@/ui/form/fields';
import { MomentField } from '@/ui/form/moment-field';
import { FormEnd, SaveOrLeave } from '@/ui/form/form-end';
import { NameSuggestion } from '@/ui/form/name-suggestion';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm, type ApiForm } from '@/ui/form/use-api-form';
import type { PickableWatch } from '@/ui/form/watch-picker';
import { AudienceFields } from './form/audience-fields';
import { FollowFields } from './form/follow-fields';
import { CopyFields } from './form/copy-fields';
import { LookFields } from './form/look-fields';
import { PagePreview } from './form/page-preview';
import { SectionsField, type Named } from './form/sections-field';
import { bodyOf, localOf, slugOf, type PageValues } from './form/values';

interface PageFormProps {
  initial: PageValues;
  watches: PickableWatch[];
  sections: Named[];
  tags: Named[];
  zones: string[];
  /** The desk's zone, which a page has where none is chosen. */
  zone: string;
  pageId?: number;
  /** What was read of it. */
  version?: string;
  /** The address names of the other pages. */
  slugs: string[];
  mailChannels: Named[];
  mailDomain: string | null;
  base: string;
  address: string | null;
  hasPassword: boolean;
  copy: Omit<ComponentProps<typeof CopyFields>, 'form'>;
}

function Part({ title, open = false, children }: { title: string; open?: boolean; children: ReactNode }) {
  return (
    <details open={open} className="border-rule border-t pt-3">
      <summary className="cursor-pointer font-serif text-[1.2rem]">{title}</summary>
      <div className="mt-3 flex flex-col gap-4">{children}</div>
    </details>
  );
}

function LeadFields({ form }: { form: ApiForm<PageValues> }) {
  const { lead } = form.values;
  if (lead === null) {
    return (
      <div>
        <p>The page is led by a sentence made from the facts, such as “Everything is running.”</p>
        <Button onClick={() => form.set({ lead: { words: '', until: localOf(Date.now() + DAY_MS) } })}>
          Say it in your own words for a time
        </Button>
      </div>
    );
  }
  return (
    <div className="flex flex-col gap-3">
      <TextField
        label="What leads the page"
        value={lead.words}
        error={form.errors['lead.words']}
        onChange={(event) => form.set({ lead: { ...lead, words: event.target.value } })}
      />
      <MomentField
        label="Until"
        value={lead.until}
        error={form.errors['lead.until']}
        onChange={(event) => form.set({ lead: { ...lead, until: event.target.value } })}
      />
      <div>
        <Button onClick={() => form.set({ lead: null })}>Let the facts say it</Button>
      </div>
    </div>
  );
}

function FirstFields({
  form,
  base,
  slugs,
}: { form: ApiForm<PageValues> } & Pick<PageFormProps, 'base' | 'slugs'>) {
  const { values, set, errors } = form;
  const [slugBefore] = useState(values.slug);
  const [slugTyped, setSlugTyped] = useState(slugBefore !== '');
  const typeSlug = (slug: string) => {
    setSlugTyped(true);
    set({ slug });
  };
  return (
    <>
      <div className="grid gap-4 sm:grid-cols-2">
        <TextField
          label="Title"
          placeholder="Tern Island Ferries"
          value={values.title}
          error={errors.title}
          onChange={(event) =>
            set({ title: event.target.value, ...(!slugTyped && { slug: slugOf(event.target.value) }) })
          }
        />
        <div>
          <TextField
            label="Address name"
            help={`The page is at ${base}/p/${values.slug || '…'}/${slugBefore && slugBefore !== values.slug ? '; where it was leads there, until another page takes that name' : ''}`}
            value={values.slug}
            error={errors.slug}
            onChange={(event) => typeSlug(event.target.value)}
          />
          <NameSuggestion
            what="page"
            name={values.slug.replaceAll('-', ' ')}
            names={slugs.map((slug) => slug.replaceAll('-', ' '))}
            spell={slugOf}
            onTake={typeSlug}
          />
        </div>
      </div>
      <AreaField
        label="Introduction"
        rows={2}
        help="One or two sentences below the headline; may be empty."
        {...form.field('intro')}
      />
    </>
  );
}

/** Moments stand in fields by the clocks of the browser. */
function inBrowser({ lead, ...values }: PageValues): PageValues {
  return { ...values, lead: lead && { ...lead, until: localOf(Date.parse(lead.until)) } };
}

/** Makes or changes a public page, with the page beside it as it is typed. */
export function PageForm(props: PageFormProps) {
  const {
    initial,
    watches,
    sections,
    tags,
    zones,
    zone,
    pageId,
    version,
    base,
    slugs,
    address,
    hasPassword,
  } = props;
  const router = useRouter();
  const form = useApiForm(() => inBrowser(initial), { version, long: true });
  const { values, set, errors, busy } = form;
  const save = async (over = false) => {
    const sent = pageId
      ? await form.send<{ id: number }>('PATCH', `/pages/${pageId}`, bodyOf(values), over)
      : await form.send<{ id: number }>('POST', '/pages', bodyOf(values));
    if (!sent) return;
    router.push(`/pages/${sent.value.id}`);
    router.refresh();
  };
  const shown = bodyOf({ ...values, password: '', copyPassword: '' });
  const titled = { ...shown, title: values.title || 'Your page', slug: values.slug || 'your-page' };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-6 xl:grid-cols-[minmax(0,1fr)_33rem]">
      <OwnForm onSend={() => save()} className="flex min-w-0 flex-col gap-5">
        <FirstFields form={form} base={base} slugs={slugs} />
        <SectionsField
          sections={values.sections}
          onChange={(all) => set({ sections: all })}
          watches={watches}
          deskSections={sections}
          tags={tags}
          errors={errors}
        />
        <Part title="Who may see it" open={Boolean(errors.password ?? errors.host)}>
          <AudienceFields
            form={form}
            hasPassword={hasPassword}
            address={address}
            machine={new URL(base).hostname}
          />
        </Part>
        <Part title="How it looks" open={Boolean(errors.css ?? errors.accent ?? errors.logo ?? errors.cover)}>
          <LookFields form={form} />
        </Part>
        <Part title="Words, language and time" open={Boolean(errors['lead.words'] ?? errors.zone)}>
          <LeadFields form={form} />
          <SelectField
            label="Language"
            help="For visitors whose own language is not among these."
            value={values.language}
            options={optionsOf(LANGUAGES)}
            onChoose={(language) => set({ language: language as Language })}
          />
          <OfferedField
            label="Time zone"
            help={`Left empty, that of the desk: ${zone}. Visitors may change to their own.`}
            value={values.zone ?? ''}
            error={errors.zone}
            offers={zones}
            onType={(typed) => set({ zone: typed.trim() === '' ? null : typed })}
          />
          <TextField
            label="What other sites show of it"
            help="Below the title, when somebody links to the page; left empty, the sentence that leads it."
            {...form.field('socialText')}
          />
        </Part>
        <Part title="Followers" open={Boolean(errors['follow.channelId'] ?? errors['follow.perHour'])}>
          <FollowFields form={form} channels={props.mailChannels} mailDomain={props.mailDomain} />
        </Part>
        <Part title="A copy elsewhere" open={Boolean(errors['copyTo.address'] ?? errors.copyPassword)}>
          <CopyFields form={form} {...props.copy} />
        </Part>
        <SaveOrLeave
          save={pageId ? 'Save changes' : 'Make the page'}
          busy={busy}
          leave={pageId ? `/pages/${pageId}` : '/pages'}
        />
        <FormEnd form={form} onOver={() => void save(true)} />
      </OwnForm>
      <div className="xl:sticky xl:top-4">
        <PagePreview title="As visitors will see it" body={{ pageId: pageId ?? null, page: titled }} />
      </div>
    </div>
  );
}
