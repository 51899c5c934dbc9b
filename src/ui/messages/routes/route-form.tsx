'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { MessageEvent } from '@/core/messages/message';
import { foretell } from '@/core/telling/foretell';
import { routeOfConfig, type KeptRoute } from '@/core/telling/route-config';
import { routeInWords } from '@/core/telling/route-words';
import { USUAL_FOLDING } from '@/core/telling/telling';
import { TOPIC_NAMES, TOPICS, type Topic } from '@/core/telling/topic';
import { daysIn } from '@/ui/form/days-off-field';
import { DurationField } from '@/ui/form/duration-field';
import { optionsOf, SelectField, SwitchField, TextField } from '@/ui/form/fields';
import { FormEnd, SaveOrLeave } from '@/ui/form/form-end';
import { Ticks } from '@/ui/form/ticks';
import { useApiForm } from '@/ui/form/use-api-form';
import type { RouteChoices } from '@/views/messages/route-choices';
import { ForetoldTable } from './foretold-table';
import { GroupChoice } from './group-choice';
import { RouteHours } from './route-hours';
import { RouteSteps } from './route-steps';
import { RouteTrial } from './route-trial';
import { useScope } from './use-scope';
import { OwnForm } from '@/ui/form/own-form';
import type { PickableWatch } from '@/ui/form/watch-picker';

interface RouteFormProps {
  initial: Omit<KeptRoute, 'id'>;
  routeId?: number;
  /** What was read of it. */
  version?: string;
  choices: RouteChoices;
  zone: string;
  now: number;
}

const AGAIN_S = 3600;

/** The trouble a route is tried with, by its first topic. */
function troubleOf(topics: readonly Topic[], kind: string, at: number): MessageEvent {
  const missed = kind === 'checkin' || !topics.includes('down');
  return {
    kind: 'down',
    began: at,
    noticed: at,
    cause: missed ? 'checkin.missed' : 'port.refused',
    detail: {},
  };
}

/** Makes or changes a route; what it says, and what it would do, stand beside it while it is put together. */
export function RouteForm({ initial, routeId, version, choices, zone, now }: RouteFormProps) {
  const router = useRouter();
  const form = useApiForm(initial, { long: true, version });
  const { values, set, errors, busy } = form;
  const channels = new Map(choices.channels.map(({ id, name }) => [id, name]));
  const [known, setKnown] = useState(() => new Map(choices.watches.map(({ id, name }) => [id, name])));
  const meet = ({ id, name }: PickableWatch) => setKnown((before) => new Map(before).set(id, name));
  const names = {
    channel: (id: number) => channels.get(id) ?? 'a channel that has gone',
    watch: (id: number) => known.get(id) ?? 'a watch that has gone',
    kind: (id: string) => choices.kinds.find((kind) => kind.id === id)?.title ?? id,
  };
  const route = routeOfConfig({ id: routeId ?? 0, ...values, enabled: true });
  const whole = values.steps.every(({ after }) => Number.isFinite(after)) && !Number.isNaN(values.again ?? 0);
  const { scope, problem } = useScope(values.watches, choices.scope);
  const { example } = scope;
  const setup = { routes: [route], channels: new Set(channels.keys()), folding: USUAL_FOLDING };
  // Lines of days off that are still empty are none.
  const hours = values.hours && { ...values.hours, daysOff: daysIn(values.hours.daysOff.join('\n')) };
  const body = { ...values, hours };
  const save = async (over = false) => {
    const sent = routeId
      ? await form.send<{ id: number }>('PATCH', `/routes/${routeId}`, body, over)
      : await form.send<{ id: number }>('POST', '/routes', body);
    if (!sent) return;
    router.push('/messages');
    router.refresh();
  };
  return (
    <OwnForm
      onSend={() => save()}
      className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_26rem]"
    >
      <div className="flex min-w-0 flex-col gap-5">
        <section className="sheet flex flex-col gap-4 p-5">
          <TextField label="Name" placeholder="Day and night" {...form.field('name')} />
          <SwitchField
            label="On"
            help="Off, nothing goes by it."
            checked={values.enabled}
            onChange={(event) => set({ enabled: event.target.checked })}
          />
          <SelectField
            label="About"
            value={values.watches.all ? 'all' : 'some'}
            options={optionsOf({ all: 'every watch', some: 'some of them' })}
            onChoose={(value) => set({ watches: { ...values.watches, all: value === 'all' } })}
          />
          {!values.watches.all && (
            <GroupChoice
              what="About"
              group={values.watches}
              choices={choices}
              onMet={meet}
              onChange={(change) => set({ watches: { ...values.watches, ...change } })}
            />
          )}
          <details>
            <summary className="cursor-pointer font-semibold">But not about</summary>
            <div className="mt-3">
              <GroupChoice
                what="Not about"
                group={values.watches.except}
                choices={choices}
                onMet={meet}
                onChange={(change) =>
                  set({ watches: { ...values.watches, except: { ...values.watches.except, ...change } } })
                }
              />
            </div>
          </details>
          <Ticks
            label="It tells"
            options={TOPIC_NAMES.map((topic) => ({ value: topic, text: TOPICS[topic] }))}
            chosen={values.topics}
            onChange={(topics) => set({ topics: topics as Topic[] })}
          />
          {errors.topics && <p className="text-down-text text-[0.875rem] font-semibold">{errors.topics}</p>}
        </section>
        <section className="sheet flex flex-col gap-4 p-5">
          <h2>Who hears</h2>
          <RouteSteps
            steps={values.steps}
            channels={choices.channels}
            errors={errors}
            onChange={(steps) => set({ steps })}
          />
          <SelectField
            label="And again"
            value={values.again === null ? 'never' : 'again'}
            options={optionsOf({ never: 'never', again: 'until someone has it' })}
            onChoose={(value) => set({ again: value === 'never' ? null : AGAIN_S, againMost: null })}
          />
          {values.again !== null && (
            <DurationField
              label="Every"
              error={errors.again}
              seconds={values.again}
              onChange={(again) => set({ again })}
            />
          )}
        </section>
        <section className="sheet flex flex-col gap-4 p-5">
          <h2>Hours</h2>
          <RouteHours hours={values.hours} zone={zone} errors={errors} onChange={(hours) => set({ hours })} />
        </section>
      </div>
      <div className="flex min-w-0 flex-col gap-5 lg:sticky lg:top-4">
        <section className="sheet p-5">
          <h2>In a sentence</h2>
          <p className="mt-1 font-serif text-lg" role="status">
            {whole ? routeInWords(route, names) : 'Some number is missing beside this.'}
          </p>
          <p className="text-muted mt-2 text-[0.875rem]">
            {scope.watches === 1 ? 'It is about one watch' : `It is about ${scope.watches} watches`} today.
          </p>
          {problem && <p className="text-down-text mt-2 text-[0.875rem] font-semibold">{problem}</p>}
        </section>
        {example && whole && (
          <ForetoldTable
            title={`If ${example.name} went down now`}
            foretold={foretell(example, troubleOf(values.topics, example.kind, now), now, setup)}
            channel={names.channel}
          />
        )}
        <RouteTrial routeId={routeId} values={body} channel={names.channel} />
        <SaveOrLeave save={routeId ? 'Save changes' : 'Add the route'} busy={busy} leave="/messages" />
        <FormEnd form={form} onOver={() => void save(true)} />
      </div>
    </OwnForm>
  );
}
