'use client';

import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { Button, ButtonLink } from '@/ui/basic/button';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { NameSuggestion } from '@/ui/form/name-suggestion';
import { AreaField, INPUT_CLASS, TextField } from '@/ui/form/fields';
import { OwnForm } from '@/ui/form/own-form';

interface Item {
  watchId: number;
  label: string;
}

interface Section {
  title: string;
  items: Item[];
}

export interface PageFormValues {
  title: string;
  slug: string;
  intro: string;
  sections: Section[];
}

interface PageFormProps {
  initial: PageFormValues;
  watches: { id: number; name: string }[];
  pageId?: number;
  /** What was read of it. */
  version?: string;
  /** The address names of the other pages. */
  slugs: string[];
  base: string;
}

function moved<T>(list: readonly T[], from: number, step: number): T[] {
  const to = from + step;
  if (to < 0 || to >= list.length) return [...list];
  const copy = [...list];
  const [taken] = copy.splice(from, 1);
  copy.splice(to, 0, taken!);
  return copy;
}

function IconButton({
  label,
  onClick,
  children,
}: {
  label: string;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="text-muted hover:text-ink grid size-8 shrink-0 place-items-center"
    >
      {children}
    </button>
  );
}

/** "Tern Island Ferries" becomes "tern-island-ferries". */
function slugOf(title: string): string {
  return title
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60);
}

/** Makes or changes a public page: title, address name, and chosen watches in sections with an order. */
export function PageForm({ initial, watches, pageId, version, base, slugs }: PageFormProps) {
  const router = useRouter();
  const form = useApiForm(initial, { version });
  const { values, set, errors, busy } = form;
  const [slugTyped, setSlugTyped] = useState(initial.slug !== '');
  const setSection = (i: number, change: Partial<Section>) =>
    set({ sections: values.sections.map((s, j) => (j === i ? { ...s, ...change } : s)) });
  const used = new Set(values.sections.flatMap((s) => s.items.map((item) => item.watchId)));

  const save = async (over = false) => {
    const sent = pageId
      ? await form.send<{ id: number }>('PATCH', `/pages/${pageId}`, values, over)
      : await form.send<{ id: number }>('POST', '/pages', values);
    if (!sent) return;
    router.push(`/pages/${sent.value.id}`);
    router.refresh();
  };

  return (
    <OwnForm onSend={() => save()} className="flex max-w-3xl flex-col gap-5">
      <div className="grid gap-5 sm:grid-cols-2">
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
            help={`The page is at ${base}/p/${values.slug || '…'}`}
            value={values.slug}
            error={errors.slug}
            onChange={(event) => {
              setSlugTyped(true);
              set({ slug: event.target.value });
            }}
          />
          <NameSuggestion
            what="page"
            name={values.slug.replaceAll('-', ' ')}
            names={slugs.map((slug) => slug.replaceAll('-', ' '))}
            spell={slugOf}
            onTake={(slug) => {
              setSlugTyped(true);
              set({ slug });
            }}
          />
        </div>
      </div>
      <AreaField
        label="Introduction"
        rows={2}
        help="One or two sentences below the headline; may be empty."
        value={values.intro}
        error={errors.intro}
        onChange={(event) => set({ intro: event.target.value })}
      />
      {values.sections.map((section, i) => (
        <fieldset key={i} className="sheet flex flex-col gap-3 p-4">
          <legend className="sr-only">Section {i + 1}</legend>
          <div className="flex items-end gap-1">
            <div className="flex-1">
              <TextField
                label="Section title"
                placeholder="On the water"
                value={section.title}
                error={errors[`sections[${i}].title`]}
                onChange={(event) => setSection(i, { title: event.target.value })}
              />
            </div>
            <IconButton
              label={`Move section ${i + 1} up`}
              onClick={() => set({ sections: moved(values.sections, i, -1) })}
            >
              <ArrowUp size={17} aria-hidden />
            </IconButton>
            <IconButton
              label={`Move section ${i + 1} down`}
              onClick={() => set({ sections: moved(values.sections, i, 1) })}
            >
              <ArrowDown size={17} aria-hidden />
            </IconButton>
            <IconButton
              label={`Take section ${i + 1} off the page`}
              onClick={() => set({ sections: values.sections.filter((_, j) => j !== i) })}
            >
              <Trash2 size={17} aria-hidden />
            </IconButton>
          </div>
          <ol className="flex flex-col gap-1.5">
            {section.items.map((item, k) => {
              const name = watches.find((watch) => watch.id === item.watchId)?.name ?? 'a deleted watch';
              return (
                <li key={item.watchId} className="flex items-center gap-1">
                  <span className="text-muted w-44 shrink-0 truncate text-[0.875rem]">{name}</span>
                  <input
                    aria-label={`What the public reads for ${name}`}
                    className={INPUT_CLASS}
                    value={item.label}
                    aria-invalid={errors[`sections[${i}].items[${k}].label`] ? true : undefined}
                    onChange={(event) =>
                      setSection(i, {
                        items: section.items.map((it, j) =>
                          j === k ? { ...it, label: event.target.value } : it,
                        ),
                      })
                    }
                  />
                  <IconButton
                    label={`Move ${name} up`}
                    onClick={() => setSection(i, { items: moved(section.items, k, -1) })}
                  >
                    <ArrowUp size={16} aria-hidden />
                  </IconButton>
                  <IconButton
                    label={`Move ${name} down`}
                    onClick={() => setSection(i, { items: moved(section.items, k, 1) })}
                  >
                    <ArrowDown size={16} aria-hidden />
                  </IconButton>
                  <IconButton
                    label={`Take ${name} off the page`}
                    onClick={() => setSection(i, { items: section.items.filter((_, j) => j !== k) })}
                  >
                    <Trash2 size={16} aria-hidden />
                  </IconButton>
                </li>
              );
            })}
          </ol>
          <select
            aria-label={`Add a watch to section ${i + 1}`}
            className={`${INPUT_CLASS} max-w-72`}
            value=""
            onChange={(event) => {
              const watch = watches.find((w) => w.id === Number(event.target.value));
              if (watch)
                setSection(i, { items: [...section.items, { watchId: watch.id, label: watch.name }] });
            }}
          >
            <option value="">Add a watch…</option>
            {watches
              .filter((watch) => !used.has(watch.id))
              .map((watch) => (
                <option key={watch.id} value={watch.id}>
                  {watch.name}
                </option>
              ))}
          </select>
        </fieldset>
      ))}
      <div>
        <Button onClick={() => set({ sections: [...values.sections, { title: '', items: [] }] })}>
          Add a section
        </Button>
      </div>
      <div className="flex items-center gap-3">
        <Button type="submit" look="strong" disabled={busy}>
          {busy ? 'Saving…' : pageId ? 'Save changes' : 'Make the page'}
        </Button>
        <ButtonLink href={pageId ? `/pages/${pageId}` : '/pages'}>Leave it</ButtonLink>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
