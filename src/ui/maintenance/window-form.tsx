'use client';

import { useRouter } from 'next/navigation';
import { momentOfWall, wallMsOf, wallTextAt } from '@/core/maintenance/wall';
import {
  ONCE,
  choiceOf,
  minutesBetween,
  ruleOf,
  wallPlus,
  type RuleChoice,
} from '@/core/maintenance/rule-choice';
import { isTimeZone } from '@/core/time/zone-time';
import { Button, ButtonLink } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { MomentField } from '@/ui/form/moment-field';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { useZone } from '@/ui/form/zone';
import { MarkdownField } from '@/ui/pages/tell/markdown-field';
import type { CoverageChoices } from '@/views/maintenance/planned';
import { CoverageField, type CoverageValues } from './coverage-field';
import { RepeatFields } from './repeat-fields';
import { WindowTrial } from './window-trial';

/** What is changed, as it stands. */
export interface WindowStart extends CoverageValues {
  /** Of the window or of what comes again; null for a new one. */
  id: number | null;
  version?: string;
  title: string;
  text: string;
  announceDays: number;
  /** One stretch. */
  span: { begins: number; ends: number } | null;
  /** What comes again. */
  recurring: { rule: string; zone: string; first: string; lastsMinutes: number } | null;
}

interface Values extends CoverageValues {
  title: string;
  text: string;
  announceDays: string;
  /** Null while nobody has typed: then the reader's clock shows what stands. */
  zone: string | null;
  from: string | null;
  until: string | null;
  repeat: RuleChoice;
}

function valuesOf({
  recurring,
  announceDays,
  title,
  text,
  watchIds,
  sectionIds,
  tagIds,
}: WindowStart): Values {
  return {
    ...{ title, text, watchIds, sectionIds, tagIds },
    announceDays: String(announceDays),
    zone: recurring?.zone ?? null,
    from: recurring?.first ?? null,
    until: recurring ? wallPlus(recurring.first, recurring.lastsMinutes) : null,
    repeat: recurring ? choiceOf(recurring.rule, recurring.first) : ONCE,
  };
}

/** What a wall clock shows, as a moment; the text itself where it is none. */
function momentText(wall: string, zone: string): string {
  const ms = wallMsOf(wall);
  return Number.isNaN(ms) || !isTimeZone(zone) ? wall : new Date(momentOfWall(ms, zone)).toISOString();
}

/** Plans maintenance, once or again and again; when it would come stands beside it as it is typed. */
export function WindowForm({ start, choices }: { start: WindowStart; choices: CoverageChoices }) {
  const router = useRouter();
  const reader = useZone();
  const form = useApiForm(() => valuesOf(start), { long: true, version: start.version });
  const { values, set, errors, busy } = form;
  const zone = values.zone ?? reader;
  const place = isTimeZone(zone) ? zone : reader;
  const stands = (at: number | undefined) => (at === undefined ? '' : wallTextAt(at, place));
  const from = values.from ?? stands(start.span?.begins);
  const until = values.until ?? stands(start.span?.ends);
  const rule = ruleOf(values.repeat, from);
  const again = start.recurring !== null;
  const plan = {
    title: values.title,
    text: values.text,
    watchIds: values.watchIds,
    sectionIds: values.sectionIds,
    tagIds: values.tagIds,
    announceDays: Number(values.announceDays),
  };
  const body =
    rule === null
      ? { ...plan, from: momentText(from, zone), until: momentText(until, zone) }
      : { ...plan, rule, zone, first: from, lastsMinutes: minutesBetween(from, until) };
  const trial =
    from === '' || until === ''
      ? null
      : {
          [rule === null ? 'window' : 'recurring']: { ...body, title: values.title || 'Maintenance' },
          [again ? 'recurringId' : 'windowId']: start.id,
        };
  const submit = async (over = false) => {
    const path = rule === null ? '/windows' : '/recurring-windows';
    const sent = await form.send(
      start.id === null ? 'POST' : 'PATCH',
      start.id === null ? path : `${path}/${start.id}`,
      body,
      over,
    );
    if (!sent) return;
    router.push('/maintenance');
    router.refresh();
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <OwnForm sheet onSend={() => submit()} aria-label="Plan maintenance">
        <TextField
          label="Title"
          help="The public reads it on pages that show one of the watches."
          placeholder="New mast for the harbour camera"
          {...form.field('title')}
        />
        <MarkdownField
          label="Words for the public"
          help="What it means for them, and what they can do meanwhile. May be left empty."
          rows={3}
          value={values.text}
          error={errors.text}
          onType={(text) => set({ text })}
        />
        <div className="grid gap-4 sm:grid-cols-2">
          <MomentField
            label="Begins"
            value={from}
            error={errors.from ?? errors.first}
            onChange={(event) => set({ from: event.target.value })}
          />
          <MomentField
            label="Ends"
            value={until}
            error={errors.until ?? errors.lastsMinutes}
            onChange={(event) => set({ until: event.target.value })}
          />
          <TextField
            label="Time zone"
            help="By whose wall clock. It holds on both sides of a change of the clocks."
            value={zone}
            error={errors.zone}
            onChange={(event) => set({ zone: event.target.value, from, until })}
          />
          <TextField
            label="Announced so many days ahead"
            type="number"
            min={0}
            {...form.field('announceDays')}
          />
        </div>
        {(start.id === null || again) && (
          <RepeatFields
            choice={values.repeat}
            first={from}
            error={errors.rule}
            again={again}
            onChange={(change) => set({ repeat: { ...values.repeat, ...change } })}
          />
        )}
        <CoverageField choices={choices} values={values} error={errors.watchIds} onChange={set} />
        <div className="flex gap-2">
          <Button type="submit" look="strong" disabled={busy}>
            {start.id === null ? 'Plan it' : 'Save'}
          </Button>
          <ButtonLink href="/maintenance">Leave it</ButtonLink>
        </div>
        <FormEnd form={form} onOver={() => void submit(true)} />
      </OwnForm>
      <WindowTrial body={trial} zone={place} />
    </div>
  );
}
