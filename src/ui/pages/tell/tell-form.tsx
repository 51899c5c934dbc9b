'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useMemo } from 'react';
import { STAGES, STAGE_TITLES, type IncidentKind, type Stage } from '@/core/pages/incident';
import { Button, ButtonLink } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { MomentField } from '@/ui/form/moment-field';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { useDraft } from '@/ui/form/use-draft';
import type { PickableWatch } from '@/ui/form/watch-picker';
import { PagePreview } from '../form/page-preview';
import { isoOf, localOf } from '../form/values';
import { AffectedField, type AffectedValue } from './affected-field';
import { MarkdownField } from './markdown-field';
import { TextChoice } from './text-choice';
import { Segments } from './segments';

export interface TellValues {
  kind: IncidentKind;
  title: string;
  stage: Stage;
  body: string;
  /** As ISO 8601 where it is handed in, as a field takes it where it is typed; empty for now. */
  beganAt: string;
  endedAt: string;
  affected: AffectedValue[];
  pageIds: number[];
  outageId: number | null;
}

interface TellFormProps {
  initial: TellValues;
  /** With how many follow each. */
  pages: { id: number; title: string; followers: number }[];
  watches: PickableWatch[];
  /** Texts that are used again. */
  texts: { id: number; name: string }[];
}

const KINDS: { value: IncidentKind; text: string }[] = [
  { value: 'incident', text: 'something is wrong' },
  { value: 'notice', text: 'something else to know' },
];

const ONGOING = STAGES.map((value) => ({ value, text: STAGE_TITLES[value] }));

function inBrowser(values: TellValues): TellValues {
  const local = (iso: string) => (iso === '' ? '' : localOf(Date.parse(iso)));
  return { ...values, beganAt: local(values.beganAt), endedAt: local(values.endedAt) };
}

function PagesField({
  pages,
  chosen,
  error,
  onChange,
}: {
  pages: TellFormProps['pages'];
  chosen: readonly number[];
  error?: string;
  onChange: (ids: number[]) => void;
}) {
  return (
    <fieldset>
      <legend className="font-semibold">Goes to</legend>
      {pages.map(({ id, title }) => (
        <label key={id} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-button size-4"
            checked={chosen.includes(id)}
            onChange={(event) =>
              onChange(event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))
            }
          />
          {title}
        </label>
      ))}
      {error && <p className="text-down-text text-[0.875rem] font-semibold">{error}</p>}
    </fieldset>
  );
}

/** Tells the public: what is typed, and beside it what visitors will see. */
export function TellForm({ initial, pages, watches, texts }: TellFormProps) {
  const router = useRouter();
  const first = useMemo(() => inBrowser(initial), [initial]);
  const form = useApiForm(first);
  const { values, set, errors } = form;
  const { kind, pageIds, beganAt, endedAt } = values;
  const draft = useDraft(`tell-${initial.outageId ?? initial.kind}`, values, first, {
    keep: useCallback((kept: TellValues) => kept, []),
    restore: (kept) => form.setValues(kept),
  });
  const body = {
    ...values,
    beganAt: beganAt === '' ? null : isoOf(beganAt),
    endedAt: endedAt === '' || (kind === 'incident' && values.stage !== 'over') ? null : isoOf(endedAt),
  };
  const publish = async () => {
    const sent = await form.send<{ id: number }>('POST', '/incidents', body);
    if (!sent) return;
    draft.forget();
    router.push(`/incidents/${sent.value.id}`);
    router.refresh();
  };
  const { title, stage, affected, body: words } = values;
  const shown = {
    pageId: pageIds[0] ?? pages[0]?.id ?? null,
    page: null,
    incident: {
      ...{ kind, stage, affected, beganAt: body.beganAt },
      title: title || 'What you write here',
      body: words || 'What visitors should know.',
    },
  };
  const on = pages.filter(({ id }) => pageIds.includes(id));
  const names = on.map((page) => page.title);
  const followers = on.reduce((sum, page) => sum + page.followers, 0);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-6 xl:grid-cols-[minmax(0,1fr)_33rem]">
      <OwnForm onSend={publish} className="flex min-w-0 flex-col gap-5" aria-label="Tell the public">
        {draft.restored && (
          <p role="status" className="text-muted">
            What you had begun to write is here again.{' '}
            <button
              type="button"
              className="underline"
              onClick={() => {
                draft.forget(true);
                form.setValues(first);
              }}
            >
              Begin anew
            </button>
          </p>
        )}
        {initial.outageId === null && (
          <Segments
            label="What it is"
            value={kind}
            options={KINDS}
            onChoose={(chosen) => set({ kind: chosen })}
          />
        )}
        {kind === 'incident' && (
          <TextChoice
            texts={texts}
            facts={{
              outageId: initial.outageId,
              pageId: pageIds[0] ?? null,
              watchIds: affected.map(({ watchId }) => watchId),
            }}
            onFilled={(text) => set({ title: text.title, body: text.body })}
          />
        )}
        <TextField
          label="Title"
          placeholder={
            kind === 'incident' ? 'Online booking is not answering' : 'The office is closed over the holidays'
          }
          {...form.field('title')}
        />
        {kind === 'incident' && (
          <Segments
            label="How far you are"
            value={stage}
            options={ONGOING}
            onChoose={(chosen) => set({ stage: chosen })}
          />
        )}
        <div className="grid gap-4 sm:grid-cols-2">
          <MomentField
            label={kind === 'incident' ? 'Since' : 'From'}
            help={
              beganAt === ''
                ? 'Left empty: now.'
                : initial.outageId === null
                  ? undefined
                  : 'The first failed look.'
            }
            {...form.field('beganAt')}
          />
          {(kind === 'notice' || stage === 'over') && (
            <MomentField
              label="Until"
              help={
                kind === 'notice'
                  ? 'It leaves the page by itself then; left empty, it stays.'
                  : 'Left empty: now.'
              }
              {...form.field('endedAt')}
            />
          )}
        </div>
        <MarkdownField
          label="What visitors should know"
          value={words}
          error={errors.body}
          onType={(typed) => set({ body: typed })}
        />
        {kind === 'incident' && (
          <AffectedField affected={affected} watches={watches} onChange={(all) => set({ affected: all })} />
        )}
        <div className="sheet flex flex-wrap items-end justify-between gap-3 p-4">
          <PagesField
            pages={pages}
            chosen={pageIds}
            error={errors.pageIds}
            onChange={(ids) => set({ pageIds: ids })}
          />
          <p className="text-muted basis-full text-[0.875rem]">
            {followers === 0
              ? 'Nobody follows by mail: visitors read it on the page, in feeds and copies.'
              : `Up to ${followers} ${followers === 1 ? 'follower is' : 'followers are'} told half a minute after it is published; until then you can keep it from them.`}
          </p>
          <span className="flex gap-2">
            <ButtonLink href="/pages">Leave it</ButtonLink>
            <Button type="submit" look="strong" disabled={form.busy}>
              {form.busy ? 'Publishing…' : names.length > 1 ? `Publish on ${names.length} pages` : 'Publish'}
            </Button>
          </span>
        </div>
        <FormEnd form={form} />
      </OwnForm>
      <div className="xl:sticky xl:top-4">
        <PagePreview title="As visitors will see it" body={shown} />
      </div>
    </div>
  );
}
