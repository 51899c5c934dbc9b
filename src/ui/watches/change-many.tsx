'use client';

import { wireName } from '@/core/settings/wire-names';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { countWatches } from '@/core/text/words';
import type { Tag } from '@/core/settings/tag';
import type { FieldDescription } from '@/core/settings/field-description';
import type { KindChoice } from '@/views/settings/kind-choices';
import { Button } from '@/ui/basic/button';
import { problemOf } from '@/ui/basic/call-api';
import { Effects, type Effect } from '@/ui/basic/effects';
import { FormMessage, OfferedField } from '@/ui/form/fields';
import { TickLine } from '@/ui/form/ticks';
import { sayDone } from '@/ui/shell/done-notice';
import { useApiForm } from '@/ui/form/use-api-form';
import { settingLabel, sharedForm } from '@/ui/settings/shared-form';
import { sharedFieldNames, SharedSettingsFields } from '@/ui/settings/shared-settings-fields';
import { TagField } from '@/ui/settings/tag-field';
import { emptyWatchForm, ownNames, sharedBodyOf } from '@/ui/settings/watch-form-values';
import type { PickableWatch } from '@/ui/form/watch-picker';

export interface ChangeManyProps {
  /** Where it is not known whether one is paused, it may be. */
  chosen: readonly { id: number; paused: boolean | null }[];
  onDone: () => void;
  sections: string[];
  tags: readonly Tag[];
  kinds: KindChoice[];
  fields: FieldDescription[];
  watches: PickableWatch[];
  channels: readonly { id: number; name: string }[];
  zone: string;
  now: number;
}

/** What is entered besides the settings. */
interface Change {
  section: string;
  addTags: string[];
  removeTags: string[];
  /** Own settings that go back to what holds for others. */
  back: string[];
}

type Panel = 'move' | 'tags' | 'settings' | 'pause' | 'resume' | 'delete';

const PANELS: Record<Panel, string> = {
  pause: 'Pause',
  resume: 'End the pause',
  move: 'Move',
  tags: 'Tag',
  settings: 'Change settings',
  delete: 'Delete',
};

const WORDS = { take: 'Set', giveBack: 'Leave alone', set: 'set on all chosen' };

/** What can be done with the watches that are ticked: each change is shown before it is made. */
export function ChangeMany(props: ChangeManyProps) {
  const { chosen, onDone, sections, tags, kinds, fields, watches, channels, zone, now } = props;
  const router = useRouter();
  const [panel, setPanel] = useState<Panel | null>(null);
  const change = useApiForm<Change>({ section: '', addTags: [], removeTags: [], back: [] }, { long: true });
  const { section, addTags, removeTags, back } = change.values;
  const [values, setValues] = useState(() => ({ ...emptyWatchForm(zone), kind: '' }));
  const [shown, setShown] = useState<{ key: string; effects: Effect[] } | null>(null);
  const { errors, busy } = change;

  const names = sharedFieldNames(null, fields);
  const body = (which: Panel): Record<string, unknown> => {
    switch (which) {
      case 'move':
        return { section: section.trim() || null };
      case 'tags':
        return { addTags, removeTags };
      case 'settings': {
        const own = ownNames(values);
        return {
          ...sharedBodyOf(values, names),
          inherit: back.filter((name) => !own.includes(name)).map(wireName),
        };
      }
      default:
        return { action: which };
    }
  };
  /** What was shown holds for just these watches and just this change. */
  const keyOf = (asked: object) => JSON.stringify([chosen.map((watch) => watch.id), asked]);
  const send = async (which: Panel, preview: boolean) => {
    const asked = body(which);
    const done = await change.send<{ watches: Effect[] }>('POST', '/watches/changes', {
      ids: chosen.map((watch) => watch.id),
      ...asked,
      preview,
    });
    if (!done) return setShown(null);
    if (preview) return setShown({ key: keyOf(asked), effects: done.value.watches });
    onDone();
    router.refresh();
    if (which === 'delete') sayDeleted(done.value.watches.map(({ id }) => id));
  };
  const sayDeleted = (ids: number[]) =>
    sayDone({
      said: `${countWatches(ids.length)} deleted.`,
      takeBack: async () => {
        const problem = await problemOf('POST', '/deleted-watches/restores', { ids });
        router.refresh();
        return problem;
      },
    });
  const open = (which: Panel) => {
    setPanel(which);
    setShown(null);
    change.say('');
    if (['pause', 'resume', 'delete'].includes(which)) void send(which, true);
  };
  if (chosen.length === 0) {
    return (
      <p className="text-muted text-[0.875rem]">
        Tick some to pause, move, tag or change them together; each change is shown before it is made.
      </p>
    );
  }
  const offered = (Object.keys(PANELS) as Panel[]).filter(
    (which) =>
      (which !== 'pause' || chosen.some((watch) => watch.paused !== true)) &&
      (which !== 'resume' || chosen.some((watch) => watch.paused !== false)),
  );
  const effects = shown && panel && shown.key === keyOf(body(panel)) ? shown.effects : null;
  const held = { values: {}, from: {} };
  const form = {
    ...sharedForm({ values, setValues, held, kinds, watches }),
    heldText: () => 'as each has it',
    heldFrom: () => 'left alone',
    words: WORDS,
  };
  return (
    <section aria-label="Change the chosen" className="sheet flex flex-col gap-4 p-4">
      <div className="flex flex-wrap items-center gap-2">
        <span className="font-semibold" role="status">
          {countWatches(chosen.length)} chosen
        </span>
        {offered.map((which) => (
          <Button
            key={which}
            aria-pressed={panel === which}
            className="aria-pressed:border-lamp"
            look={which === 'delete' ? 'danger' : 'plain'}
            onClick={() => open(which)}
          >
            {PANELS[which]}
          </Button>
        ))}
        <Button onClick={onDone}>Choose none</Button>
      </div>
      {panel === 'move' && (
        <div className="max-w-sm">
          <OfferedField
            label="To the section"
            help="A new name makes a new section. Empty takes them out of theirs."
            error={errors.section}
            value={section}
            offers={sections}
            onType={(typed) => change.set({ section: typed })}
          />
        </div>
      )}
      {panel === 'tags' && (
        <div className="grid items-start gap-5 sm:grid-cols-2">
          <TagField
            label="Add these tags"
            chosen={addTags}
            known={tags}
            error={errors.addTags}
            onChange={(tagged) => change.set({ addTags: tagged })}
          />
          <TagField
            label="Take these off"
            help="From those that carry them."
            chosen={removeTags}
            known={tags}
            error={errors.removeTags}
            onChange={(tagged) => change.set({ removeTags: tagged })}
          />
        </div>
      )}
      {panel === 'settings' && (
        <div className="flex flex-col gap-5">
          <SharedSettingsFields
            {...{ type: null, fields, values, setValues, form, errors, watches, channels, now }}
          />
          <GiveBack
            kinds={kinds}
            names={names.filter((name) => !form.owns(name))}
            chosen={back}
            onChange={(given) => change.set({ back: given })}
          />
        </div>
      )}
      {panel && effects && <Effects effects={effects} />}
      {panel && (
        <div className="flex flex-wrap items-center gap-3">
          {effects ? (
            <Button
              look={panel === 'delete' ? 'danger' : 'strong'}
              disabled={busy || effects.length === 0}
              onClick={() => void send(panel, false)}
            >
              {busy ? 'Changing…' : `${PANELS[panel]}: ${countWatches(effects.length)}`}
            </Button>
          ) : (
            <Button look="strong" disabled={busy} onClick={() => void send(panel, true)}>
              {busy ? 'Working it out…' : 'Show what changes'}
            </Button>
          )}
          {panel === 'delete' && (
            <span className="text-muted text-[0.875rem]">
              For seven days they can be brought back, under “Deleted watches” in the menu.
            </span>
          )}
          <FormMessage text={change.said?.text ?? null} />
        </div>
      )}
    </section>
  );
}

interface GiveBackProps {
  names: readonly string[];
  kinds: readonly KindChoice[];
  chosen: readonly string[];
  onChange: (names: string[]) => void;
}

/** Own settings that are to go back to what holds for others. */
function GiveBack({ names, kinds, chosen, onChange }: GiveBackProps) {
  return (
    <details className="sheet px-4 py-3">
      <summary className="cursor-pointer font-semibold">
        Give back{' '}
        <span className="text-muted font-normal">
          {chosen.length === 0 ? 'nothing' : `${chosen.length} settings`}: what is set on the watches
          themselves goes, and what holds for others counts
        </span>
      </summary>
      <div className="mt-3 grid gap-1 sm:grid-cols-2 lg:grid-cols-3">
        {names.map((name) => (
          <TickLine key={name} value={name} text={settingLabel(name, kinds)} {...{ chosen, onChange }} />
        ))}
      </div>
    </details>
  );
}
