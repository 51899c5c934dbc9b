'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { SAID_TITLES } from '@/core/messages/said-titles';
import { Link } from '@/ui/basic/link';
import { optionsOf, SelectField } from '@/ui/form/fields';
import { DayField } from '@/ui/form/moment-field';

interface SentFilterProps {
  asked: {
    channel: number | null;
    outcome: string | null;
    says: string | null;
    /** Days, as "2026-11-26". */
    since: string | null;
    until: string | null;
  };
  /** The watch it is narrowed to. */
  watch: { id: number; name: string } | null;
  channels: readonly { id: number; name: string }[];
}

const OUTCOMES = [
  { value: '', text: 'whatever it came to' },
  { value: 'delivered', text: 'delivered' },
  { value: 'waiting', text: 'on its way' },
  { value: 'given-up', text: 'given up' },
];

const SAYS = [{ value: '', text: 'whatever it says' }, ...optionsOf(SAID_TITLES)];

/** What is typed is a day once all of it stands there. */
const isDay = (text: string) => text === '' || /^20\d{2}-\d{2}-\d{2}$/.test(text);

/** Narrows what was sent; what is chosen stands in the address. */
export function SentFilter({ asked, watch, channels }: SentFilterProps) {
  const router = useRouter();
  const go = (change: Partial<SentFilterProps['asked']>) => {
    const { channel, outcome, says, since, until } = { ...asked, ...change };
    const query = new URLSearchParams();
    if (channel !== null) query.set('channel', String(channel));
    if (outcome) query.set('outcome', outcome);
    if (says) query.set('says', says);
    if (since) query.set('since', since);
    if (until) query.set('until', until);
    if (watch) query.set('watch', String(watch.id));
    router.replace(`/messages/sent?${query.toString()}`, { scroll: false });
  };
  const narrowed = watch !== null || Object.values(asked).some((value) => value !== null);
  return (
    <div role="search" aria-label="Narrow the list" className="flex flex-wrap items-end gap-3">
      <SelectField
        label="Channel"
        value={asked.channel === null ? '' : String(asked.channel)}
        options={[
          { value: '', text: 'every channel' },
          ...channels.map(({ id, name }) => ({ value: String(id), text: name })),
        ]}
        onChoose={(id) => go({ channel: id === '' ? null : Number(id) })}
      />
      <SelectField
        label="Says"
        value={asked.says ?? ''}
        options={SAYS}
        onChoose={(says) => go({ says: says || null })}
      />
      <SelectField
        label="Came to"
        value={asked.outcome ?? ''}
        options={OUTCOMES}
        onChoose={(outcome) => go({ outcome: outcome || null })}
      />
      <FilterDay
        key={`since ${asked.since}`}
        label="From"
        day={asked.since ?? ''}
        onDay={(since) => go({ since: since || null })}
      />
      <FilterDay
        key={`until ${asked.until}`}
        label="To"
        day={asked.until ?? ''}
        onDay={(until) => go({ until: until || null })}
      />
      {narrowed && (
        <Link href="/messages/sent" className="py-2 text-[0.875rem]">
          Show all
        </Link>
      )}
    </div>
  );
}

interface FilterDayProps {
  label: string;
  day: string;
  onDay: (day: string) => void;
}

/** A day that narrows the list as soon as it is one. */
function FilterDay({ label, day, onDay }: FilterDayProps) {
  const [typed, setTyped] = useState(day);
  return (
    <DayField
      label={label}
      value={typed}
      onChange={({ target: { value } }) => {
        setTyped(value);
        if (isDay(value) && value !== day) onDay(value);
      }}
    />
  );
}
