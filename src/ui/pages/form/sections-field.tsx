'use client';

import { useState } from 'react';
import { Trash2 } from 'lucide-react';
import { Button } from '@/ui/basic/button';
import { Sortable } from '@/ui/basic/sortable';
import { INPUT_CLASS, SelectField, TextField } from '@/ui/form/fields';
import { calledIn, WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';
import { AddWatch } from './add-watch';
import type { Shows } from '@/core/pages/page';
import type { Counting } from '@/core/pages/public-line';
import { newItem, newSection, type ItemValues, type SectionValues } from './values';

export interface Named {
  id: number;
  name: string;
}

interface SectionsProps {
  sections: SectionValues[];
  onChange: (sections: SectionValues[]) => void;
  watches: readonly PickableWatch[];
  /** A watch that was found and chosen is known by its name from then on. */
  onMet: (watch: PickableWatch) => void;
  deskSections: readonly Named[];
  tags: readonly Named[];
  errors: Readonly<Record<string, string>>;
}

const SHOWS: { value: Shows; text: string }[] = [
  { value: 'history', text: 'its history' },
  { value: 'state', text: 'only how it stands now' },
  { value: 'times', text: 'its history and how fast it answers' },
];

const COUNTING: { value: Counting; text: string }[] = [
  { value: 'any', text: 'out as soon as any of them is' },
  { value: 'all', text: 'out only when all of them are' },
];

function inOrder<T extends { key: number }>(all: readonly T[], keys: readonly number[]): T[] {
  return [...all].sort((a, b) => keys.indexOf(a.key) - keys.indexOf(b.key));
}

function TakeOff({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="text-muted hover:text-ink grid size-8 shrink-0 place-items-center"
    >
      <Trash2 size={17} aria-hidden />
    </button>
  );
}

interface LineProps {
  item: ItemValues;
  handle: React.ReactNode;
  names: string;
  watches: readonly PickableWatch[];
  onMet: (watch: PickableWatch) => void;
  errors: Readonly<Record<string, string>>;
  path: string;
  onChange: (change: Partial<ItemValues>) => void;
  onTakeOff: () => void;
}

/** One line of the page: what the public reads, and behind it what it is made of. */
function LineFields(props: LineProps) {
  const { item, handle, names, watches, onMet, errors, path, onChange, onTakeOff } = props;
  const wrong = Object.entries(errors).find(([field]) => field.startsWith(`${path}.`))?.[1];
  return (
    <div className="py-1">
      <div className="flex items-center gap-1">
        {handle}
        <input
          aria-label={`What the public reads for ${names}`}
          className={INPUT_CLASS}
          value={item.label}
          aria-invalid={errors[`${path}.label`] ? true : undefined}
          onChange={(event) => onChange({ label: event.target.value })}
        />
        <TakeOff label={`Take ${item.label || names} off the page`} onClick={onTakeOff} />
      </div>
      {wrong && <p className="text-down-text pl-8 text-[0.875rem] font-semibold">{wrong}</p>}
      <details className="pl-8 text-[0.9062rem]">
        <summary className="text-muted cursor-pointer text-[0.8438rem]">
          {names} · {SHOWS.find(({ value }) => value === item.shows)!.text}
        </summary>
        <div className="flex flex-col gap-3 py-2">
          <TextField
            label="Described as"
            help="One line below the name; may be empty."
            value={item.description}
            error={errors[`${path}.description`]}
            onChange={(event) => onChange({ description: event.target.value })}
          />
          <SelectField
            label="Shows"
            value={item.shows}
            options={SHOWS}
            onChoose={(shows) => onChange({ shows: shows as Shows })}
          />
          <WatchPicker
            label="Stands for"
            help="One watch, or several that stand as one line."
            watches={watches}
            chosen={item.watchIds}
            onChange={(watchIds) => onChange({ watchIds })}
            onMet={onMet}
            error={errors[`${path}.watchIds`]}
          />
          {item.watchIds.length > 1 && (
            <SelectField
              label="Several count as"
              value={item.counting}
              options={COUNTING}
              onChoose={(counting) => onChange({ counting: counting as Counting })}
            />
          )}
        </div>
      </details>
    </div>
  );
}

/** One that is known to nobody here any more. */
const GONE = { id: 0, name: 'a watch' };

interface SectionProps extends Omit<SectionsProps, 'sections' | 'onChange'> {
  section: SectionValues;
  index: number;
  handle: React.ReactNode;
  onChange: (change: Partial<SectionValues>) => void;
  onTakeOff: () => void;
}

function SectionFields(props: SectionProps) {
  const { section, index, handle, watches, onMet, deskSections, tags, errors, onChange, onTakeOff } = props;
  const { items, follows } = section;
  const path = `sections[${index}]`;
  const nameOf = (id: number) => calledIn(watches.find((watch) => watch.id === id) ?? GONE);
  const namesOf = (item: ItemValues) => item.watchIds.map(nameOf).join(', ');
  const change = (key: number, one: Partial<ItemValues>) =>
    onChange({ items: items.map((item) => (item.key === key ? { ...item, ...one } : item)) });
  const used = new Set(items.flatMap((item) => item.watchIds));
  const chosen = follows?.sectionId ? `s${follows.sectionId}` : follows?.tagId ? `t${follows.tagId}` : '';
  return (
    <fieldset className="sheet mb-3 flex flex-col gap-3 p-4">
      <legend className="sr-only">Section {index + 1}</legend>
      <div className="flex items-end gap-1">
        {handle}
        <div className="flex-1">
          <TextField
            label="Section title"
            placeholder="On the water"
            value={section.title}
            error={errors[`${path}.title`]}
            onChange={(event) => onChange({ title: event.target.value })}
          />
        </div>
        <TakeOff label={`Take section ${index + 1} off the page`} onClick={onTakeOff} />
      </div>
      <Sortable
        items={items.map((item) => ({ id: item.key, name: item.label || namesOf(item) }))}
        label={`Lines of section ${index + 1}`}
        onOrder={async (keys) => {
          onChange({ items: inOrder(items, keys) });
          return true;
        }}
        render={({ id }, grip) => {
          const item = items.find((one) => one.key === id);
          return (
            item && (
              <LineFields
                item={item}
                handle={grip}
                names={namesOf(item)}
                watches={watches}
                onMet={onMet}
                errors={errors}
                path={`${path}.items[${items.indexOf(item)}]`}
                onChange={(one) => change(item.key, one)}
                onTakeOff={() => onChange({ items: items.filter((other) => other.key !== item.key) })}
              />
            )
          );
        }}
      />
      <AddWatch
        label={`Add a watch to section ${index + 1}`}
        watches={watches}
        used={used}
        onAdd={(watch) => {
          onMet(watch);
          onChange({ items: [...items, newItem(watch)] });
        }}
      />
      <SelectField
        label="Watches that come by themselves"
        help="They stand below those you chose, under the names they have on the desk, new ones too."
        className="max-w-72"
        error={errors[`${path}.follows.sectionId`] ?? errors[`${path}.follows.tagId`]}
        value={chosen}
        options={[
          { value: '', text: 'none' },
          ...deskSections.map(({ id, name }) => ({ value: `s${id}`, text: `all of section ${name}` })),
          ...tags.map(({ id, name }) => ({ value: `t${id}`, text: `all with the tag ${name}` })),
        ]}
        onChoose={(value) => {
          const id = Number(value.slice(1));
          if (value === '') onChange({ follows: null });
          else if (value.startsWith('s')) onChange({ follows: { sectionId: id, tagId: null } });
          else onChange({ follows: { sectionId: null, tagId: id } });
        }}
      />
    </fieldset>
  );
}

/** The sections of a page with their lines, put into order by dragging or by keyboard. */
export function SectionsField({ sections, onChange, watches, ...rest }: Omit<SectionsProps, 'onMet'>) {
  const [met, setMet] = useState<readonly PickableWatch[]>([]);
  const known = [...new Map([...watches, ...met].map((watch) => [watch.id, watch])).values()];
  return (
    <div>
      <Sortable
        items={sections.map(({ key, title }, i) => ({ id: key, name: title || `section ${i + 1}` }))}
        label="Sections"
        onOrder={async (keys) => {
          onChange(inOrder(sections, keys));
          return true;
        }}
        render={({ id }, handle) => {
          const index = sections.findIndex((section) => section.key === id);
          const section = sections[index];
          return (
            section && (
              <SectionFields
                {...rest}
                watches={known}
                onMet={(watch) => setMet((before) => [...before, watch])}
                section={section}
                index={index}
                handle={handle}
                onChange={(change) =>
                  onChange(sections.map((one) => (one.key === id ? { ...one, ...change } : one)))
                }
                onTakeOff={() => onChange(sections.filter((one) => one.key !== id))}
              />
            )
          );
        }}
      />
      <Button onClick={() => onChange([...sections, newSection()])}>Add a section</Button>
    </div>
  );
}
