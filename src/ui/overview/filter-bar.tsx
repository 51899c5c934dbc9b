'use client';

import { Check, ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { filterToQuery, isFiltering, NO_FILTER, type WatchFilter } from '@/core/settings/watch-filter';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { Confirm } from '@/ui/basic/confirm';
import { INPUT_CLASS } from '@/ui/form/fields';
import { NameLine } from '@/ui/form/name-line';

type Listed = 'states' | 'kinds' | 'sections' | 'tags';

interface FilterBarProps {
  /** The page it narrows, with whatever else is in its address. */
  path: string;
  rest?: Record<string, string>;
  filter: WatchFilter;
  choices: Record<Listed, { value: string; text: string }[]>;
  kept: { id: number; name: string; filter: WatchFilter }[];
  /** How many of how many are let through. */
  shown: number;
  all: number;
}

const LABELS: Record<Listed, string> = { states: 'State', kinds: 'Kind', sections: 'Section', tags: 'Tag' };
const TYPING_MS = 120;

/** Narrows a list of watches by state, kind, section, tag and text; what is used often is kept under a name. */
export function FilterBar({ path, rest = {}, filter, choices, kept, shown, all }: FilterBarProps) {
  const router = useRouter();
  const [text, setText] = useState(filter.text);
  const [naming, setNaming] = useState(false);
  const hrefOf = (wanted: WatchFilter) => {
    const query = [new URLSearchParams(rest).toString(), filterToQuery(wanted)].filter(Boolean).join('&');
    return query === '' ? path : `${path}?${query}`;
  };
  // What is wanted, which the page shows only once the server has answered: the next change starts from here.
  const wanted = useRef(filter);
  useEffect(() => {
    wanted.current = filter;
  }, [filter]);
  const typing = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(typing.current), []);
  const change = (part: Partial<WatchFilter>) => {
    clearTimeout(typing.current);
    wanted.current = { ...wanted.current, ...part };
    router.replace(hrefOf(wanted.current), { scroll: false });
  };
  const go = (whole: WatchFilter) => {
    setText(whole.text);
    change(whole);
  };
  const type = (typed: string) => {
    setText(typed);
    clearTimeout(typing.current);
    typing.current = setTimeout(() => change({ text: typed.trim() }), TYPING_MS);
  };
  const active = isFiltering(filter);
  const current = kept.find((one) => filterToQuery(one.filter) === filterToQuery(filter));
  return (
    <div role="search" aria-label="Narrow the list" className="flex flex-col gap-2 text-[0.875rem]">
      <div className="flex flex-wrap items-center gap-2">
        <input
          className={`${INPUT_CLASS} !w-48 !py-1.5`}
          aria-label="Text in name, target, section or tag"
          placeholder="Narrow by text"
          value={text}
          onChange={(event) => type(event.target.value)}
        />
        {(Object.keys(LABELS) as Listed[]).map((field) => (
          <Menu
            key={field}
            label={LABELS[field]}
            options={choices[field]}
            chosen={filter[field]}
            onChange={(values) => change({ text: text.trim(), [field]: values })}
          />
        ))}
        {kept.length > 0 && (
          <ul
            aria-label="Kept filters"
            className="border-rule flex flex-wrap items-center gap-2 sm:border-l sm:pl-2"
          >
            {kept.map((one) => (
              <li key={one.id}>
                <Button
                  aria-pressed={one === current}
                  className="aria-pressed:border-lamp"
                  onClick={() => go(one.filter)}
                >
                  {one.name}
                </Button>
              </li>
            ))}
            {current && (
              <li>
                <Confirm
                  trigger="Forget it"
                  title={`Forget the filter ${current.name}?`}
                  action="Forget it"
                  onConfirm={async () => {
                    const result = await callApi('DELETE', `/filters/${current.id}`);
                    router.refresh();
                    return result.ok ? null : result.detail;
                  }}
                >
                  The watches stay as they are; only the name for this filter goes.
                </Confirm>
              </li>
            )}
          </ul>
        )}
        {active && (
          <>
            <span role="status" className="text-muted">
              {shown} of {all}
            </span>
            <Button onClick={() => go(NO_FILTER)}>Show all</Button>
            {!current && !naming && <Button onClick={() => setNaming(true)}>Keep this filter</Button>}
          </>
        )}
      </div>
      {naming && active && (
        <NameLine
          label="Name of the filter"
          action="Keep it"
          placeholder="Down on the piers"
          others={{ what: 'filter', names: kept.map((filter) => filter.name) }}
          onLeave={() => setNaming(false)}
          onSave={async (name) => {
            const result = await callApi('POST', '/filters', { name, filter });
            if (!result.ok) return problemText(result);
            setNaming(false);
            router.refresh();
            return null;
          }}
        />
      )}
    </div>
  );
}

interface MenuProps {
  label: string;
  options: readonly { value: string; text: string }[];
  chosen: readonly string[];
  onChange: (values: string[]) => void;
}

function Menu({ label, options, chosen, onChange }: MenuProps) {
  if (options.length === 0) return null;
  const names = options.filter((option) => chosen.includes(option.value)).map((option) => option.text);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="border-rule bg-card data-[on=true]:border-lamp inline-flex min-h-9 max-w-56 items-center gap-1 rounded-lg border px-3"
        data-on={names.length > 0}
      >
        <span className="truncate">{names.length === 0 ? label : `${label}: ${names.join(', ')}`}</span>
        <ChevronDown size={14} aria-hidden className="text-muted shrink-0" />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="sheet z-30 max-h-80 overflow-y-auto p-1.5 shadow-lg">
          {options.map((option) => (
            <DropdownMenu.CheckboxItem
              key={option.value}
              className="data-[highlighted]:bg-quiet flex cursor-pointer items-center gap-2 rounded-md px-2 py-1.5 outline-none"
              checked={chosen.includes(option.value)}
              onSelect={(event) => event.preventDefault()}
              onCheckedChange={(on) =>
                onChange(on ? [...chosen, option.value] : chosen.filter((one) => one !== option.value))
              }
            >
              <span className="grid size-4 place-items-center">
                <DropdownMenu.ItemIndicator>
                  <Check size={15} aria-hidden />
                </DropdownMenu.ItemIndicator>
              </span>
              {option.text}
            </DropdownMenu.CheckboxItem>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
