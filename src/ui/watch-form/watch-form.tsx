'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useState } from 'react';
import type { Levels } from '@/core/settings/cascade';
import { knowWithinSentence, looksPerDaySentence } from '@/core/lifecycle/foresight';
import type { Tag } from '@/core/settings/tag';
import type { WordsAdvice } from '@/core/expect/words-advice';
import { rulesOf } from '@/core/settings/watch-config';
import type { KindChoice } from '@/views/settings/kind-choices';
import { Button } from '@/ui/basic/button';
import { CheckinFields } from '@/ui/settings/checkin-fields';
import { DuePreview } from '@/ui/settings/due-preview';
import { TextField, OfferedField } from '@/ui/form/fields';
import { KindPicker } from './kind-choice';
import { ProbeSettings } from '@/ui/settings/probe-settings';
import { NameSuggestion } from '@/ui/form/name-suggestion';
import { TellingFields } from '@/ui/settings/telling-fields';
import { ProbeTimingFields } from '@/ui/settings/probe-timing-fields';
import { askPageWords, PageWords, WordsWarning } from './page-words';
import { isSame, settingValues } from '@/ui/settings/setting-value';
import { TrialLook } from './trial-look';
import { WatchPast } from './watch-past';
import { SharedField } from '@/ui/settings/shared-field';
import { sharedForm } from '@/ui/settings/shared-form';
import { TagField } from '@/ui/settings/tag-field';
import { FormEnd, SaveOrLeave } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { useDraft } from '@/ui/form/use-draft';
import {
  configOf,
  heldFor,
  watchBodyOf,
  withHeld,
  type SetValue,
  type WatchFormValues,
} from '@/ui/settings/watch-form-values';
import { calledIn, WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';
import { OwnForm } from '@/ui/form/own-form';

/** What some watches are called; those that were only found while typing are counted. */
function namesText(ids: readonly number[], watches: readonly PickableWatch[]): string {
  const names = watches.filter(({ id }) => ids.includes(id)).map(calledIn);
  const more = ids.length - names.length;
  return [...names, ...(more > 0 ? [`${more} more`] : [])].join(', ') || 'nothing';
}

interface WatchFormProps {
  kinds: KindChoice[];
  sections: string[];
  tags: Pick<Tag, 'name' | 'colour'>[];
  levels: Levels;
  /** All other watches. */
  watches: PickableWatch[];
  channels: readonly { id: number; name: string }[];
  initial: WatchFormValues;
  /** The watch that is changed; a new one is made without. */
  watchId?: number;
  /** What was read of it. */
  version?: string;
  /** The watch this one is made like; its secrets go along. */
  likeId?: number;
  now: number;
}

/** The form without what is kept sealed: that is not to lie about in a browser. */
function withoutSecretSettings(values: WatchFormValues, kinds: readonly KindChoice[]): WatchFormValues {
  const secret = new Set(
    kinds.flatMap((kind) => kind.fields.filter((f) => f.control.startsWith('secret')).map((f) => f.name)),
  );
  const open = Object.entries(values.settings).filter(([name]) => !secret.has(name));
  return { ...values, settings: Object.fromEntries(open) };
}

/** Makes or changes a watch: what to watch, how, and what can be tried before it is saved. */
export function WatchForm(props: WatchFormProps) {
  const { kinds, sections, tags, levels, watches, channels, initial, watchId, version, likeId, now } = props;
  const router = useRouter();
  const api = useApiForm(initial, { long: true, version });
  const { values, setValues, errors, refuse, busy } = api;
  const [doubted, setDoubted] = useState('');
  const [advice, setAdvice] = useState<WordsAdvice[]>([]);
  const keepOpenOnly = useCallback((all: WatchFormValues) => withoutSecretSettings(all, kinds), [kinds]);
  const draft = useDraft(`watch ${watchId ?? (likeId ? `like ${likeId}` : 'new')}`, values, initial, {
    keep: keepOpenOnly,
    restore: (kept) =>
      setValues({ ...initial, ...kept, settings: { ...initial.settings, ...kept.settings } }),
  });
  const set: SetValue = (key, value) => setValues((old) => ({ ...old, [key]: value }));
  const isCheckin = values.kind === 'checkin';
  const kind = kinds.find((k) => k.id === values.kind);
  const held = heldFor(values, levels, watchId);
  const shown = withHeld(values, held);
  const config = configOf(values, held);
  const form = sharedForm({ values, setValues, held, kinds, watches });
  const body = () => watchBodyOf(values, levels.usual);

  const choose = (id: string) => {
    setValues((old) => ({ ...old, kind: id }));
    refuse('', {});
  };
  /** Words are doubted once before they are saved; saving again keeps them. */
  const doubtWords = async (): Promise<boolean> => {
    const { words, address } = values.settings;
    const key = JSON.stringify([words, address]);
    const changed = !isSame(words, initial.settings.words) || !isSame(address, initial.settings.address);
    if (values.kind !== 'web' || !changed || String(words ?? '').trim() === '' || doubted === key)
      return false;
    const result = await askPageWords(body(), watchId ?? likeId);
    setDoubted(key);
    setAdvice(result.ok ? result.value.advice : []);
    return result.ok && result.value.advice.length > 0;
  };
  const save = async (over = false) => {
    if (await api.whileBusy(doubtWords)) return;
    const [method, path] = watchId
      ? (['PATCH', `/watches/${watchId}`] as const)
      : (['POST', likeId ? `/watches?watch=${likeId}` : '/watches'] as const);
    const saved = await api.send<{ id: number }>(method, path, body(), over);
    if (!saved) return;
    draft.forget();
    router.push(`/watches/${saved.value.id}`);
    router.refresh();
  };

  const restsOnPicker = (
    <WatchPicker
      label="It rests on these"
      help="A router, a host, a database: while one of them is down, this one’s trouble is recorded and follows from it, and nobody is told of it by itself."
      error={errors.restsOn}
      watches={watches}
      chosen={values.restsOn}
      onChange={(restsOn) =>
        setValues((old) => ({ ...old, restsOn, own: [...new Set([...old.own, 'restsOn'])] }))
      }
    />
  );

  return (
    <OwnForm onSend={() => save()} className="grid items-start gap-6 lg:grid-cols-[minmax(0,1fr)_24rem]">
      <div className="flex flex-col gap-5">
        {draft.restored && (
          <p
            role="status"
            className="border-lamp bg-wash flex flex-wrap items-center gap-3 rounded-lg border-l-4 px-4 py-2"
          >
            What you had typed here is back; secrets have to be typed again.
            <Button
              onClick={() => {
                draft.forget(true);
                setValues(initial);
              }}
            >
              Begin anew
            </Button>
          </p>
        )}
        {!watchId && <KindPicker kinds={kinds} chosen={values.kind} onChoose={choose} />}
        {kind && !isCheckin && (
          <ProbeSettings
            key={values.kind}
            fields={kind.fields}
            values={shown.settings}
            defaults={settingValues(kind.defaults)}
            onChange={(name, value) =>
              setValues((old) => ({ ...old, settings: { ...old.settings, [name]: value } }))
            }
            errors={errors}
            watches={watches}
            form={form}
            autoFocus={false}
          >
            {values.kind === 'web' && (
              <PageWords
                body={body}
                watchId={watchId ?? likeId}
                onRefused={refuse}
                onPick={(words) => setValues((old) => ({ ...old, settings: { ...old.settings, words } }))}
              />
            )}
          </ProbeSettings>
        )}
        {isCheckin && <CheckinFields {...{ values, form, set, errors }} />}
        <div className="grid gap-5 sm:grid-cols-2">
          <div>
            <TextField
              label="Name"
              help={isCheckin ? 'What the job is called.' : 'Made from the address when left empty.'}
              placeholder={isCheckin ? 'Nightly manifest backup' : 'Booking site'}
              error={errors.name}
              value={values.name}
              onChange={(event) => set('name', event.target.value)}
            />
            <NameSuggestion
              what="watch"
              name={values.name}
              names={watches.map((watch) => watch.name)}
              onTake={(name) => set('name', name)}
            />
          </div>
          <OfferedField
            label="Section"
            help="A new name makes a new section."
            placeholder="On the water"
            error={errors.section}
            value={values.section}
            offers={sections}
            onType={(one) => set('section', one)}
          />
        </div>
        <TagField
          chosen={values.tags}
          known={tags}
          error={errors.tags}
          onChange={(names) => set('tags', names)}
        />
        {!isCheckin && <ProbeTimingFields {...{ values, shown, form, set, errors, now }} />}
        <TellingFields {...{ values, shown, form, set, errors, channels }} />
        {watches.length > 0 && (
          <details className="sheet px-4 py-3" open={'restsOn' in errors || undefined}>
            <summary className="cursor-pointer font-semibold">
              Rests on <span className="text-muted font-normal">{namesText(shown.restsOn, watches)}</span>
            </summary>
            <div className="mt-3">
              {held.from.restsOn === 'product' ? (
                restsOnPicker
              ) : (
                <SharedField name="restsOn" label="It rests on these" form={form}>
                  {restsOnPicker}
                </SharedField>
              )}
            </div>
          </details>
        )}
        {watchId && values.kind !== 'combined' && <WatchPast watchId={watchId} body={body} />}
        <p className="font-serif text-lg" role="status">
          {config ? knowWithinSentence(rulesOf(config, values.zone)) : 'Some number is missing above.'}
          {config?.type === 'probe' && !config.when && (
            <span className="text-muted block font-sans text-[0.875rem]">
              {looksPerDaySentence(config.every)}
            </span>
          )}
        </p>
        <SaveOrLeave
          save={watchId ? 'Save changes' : 'Save watch'}
          busy={busy}
          leave={watchId ? `/watches/${watchId}` : '/'}
        />
        <WordsWarning advice={advice} />
        <FormEnd form={api} onOver={() => void save(true)} />
      </div>
      {isCheckin ? (
        <section className="sheet p-5">
          {config?.type === 'checkin' && (
            <DuePreview schedule={config.schedule} now={now} zone={values.zone} />
          )}
          {!watchId && (
            <p className="text-muted mt-3 text-[0.875rem]">
              Save it to get its check-in address and a line ready to paste into your crontab.
            </p>
          )}
        </section>
      ) : (
        <TrialLook
          body={body}
          watchId={watchId ?? likeId}
          onRefused={refuse}
          onLooked={({ address }) => {
            if (address) setValues((old) => ({ ...old, settings: { ...old.settings, address } }));
          }}
        />
      )}
    </OwnForm>
  );
}
