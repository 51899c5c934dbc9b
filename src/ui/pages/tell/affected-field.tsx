'use client';

import { AFFECTED, AFFECTED_TITLES, type Affected } from '@/core/pages/incident';
import { INPUT_CLASS, Options } from '@/ui/form/fields';
import type { PickableWatch } from '@/ui/form/watch-picker';
import { Segments } from './segments';

export interface AffectedValue {
  watchId: number;
  how: Affected;
}

interface AffectedFieldProps {
  affected: readonly AffectedValue[];
  /** Watches that stand on some page, by what the public reads of them. */
  watches: readonly PickableWatch[];
  onChange: (affected: AffectedValue[]) => void;
}

const HOWS = AFFECTED.map((how) => ({ value: how, text: AFFECTED_TITLES[how] }));

/** What an incident does to which services. */
export function AffectedField({ affected, watches, onChange }: AffectedFieldProps) {
  const nameOf = (id: number) => watches.find((watch) => watch.id === id)?.name ?? 'on no page';
  const left = watches.filter(({ id }) => !affected.some(({ watchId }) => watchId === id));
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">What is affected</legend>
      {affected.length === 0 && <p className="text-muted mb-1 text-[0.9062rem]">Nothing is named yet.</p>}
      <ul className="mb-2 flex flex-col gap-1.5">
        {affected.map(({ watchId, how }) => (
          <li key={watchId} className="flex flex-wrap items-center justify-between gap-2">
            <span>{nameOf(watchId)}</span>
            <Segments
              quiet
              label={`How ${nameOf(watchId)} is affected`}
              value={how}
              options={HOWS}
              onChoose={(chosen) =>
                onChange(affected.map((one) => (one.watchId === watchId ? { watchId, how: chosen } : one)))
              }
            />
          </li>
        ))}
      </ul>
      {left.length > 0 && (
        <select
          aria-label="Add what is affected"
          className={`${INPUT_CLASS} max-w-72`}
          value=""
          onChange={(event) => {
            const watchId = Number(event.target.value);
            if (watchId > 0) onChange([...affected, { watchId, how: 'out' }]);
          }}
        >
          <option value="">Add a service…</option>
          <Options of={left.map(({ id, name }) => ({ value: id, text: name }))} />
        </select>
      )}
    </fieldset>
  );
}
