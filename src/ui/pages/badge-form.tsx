'use client';

import { useState } from 'react';
import { LANGUAGES } from '@/core/languages/language';
import { BADGE_SHOWS, type BadgeShows } from '@/core/pages/badge';
import { LINE_DAYS } from '@/core/pages/page';
import { Button } from '@/ui/basic/button';
import { CopyLine } from '@/ui/basic/copy-line';
import { optionsOf, SelectField, TextField } from '@/ui/form/fields';

export interface BadgeChoice {
  value: string;
  text: string;
  /** What stands before the words of a badge of it, where nobody has typed anything else. */
  label: string;
}

interface BadgeFormProps {
  /** What the addresses of pictures begin with; what is chosen follows. */
  pictures: string;
  /** Where a badge leads to, where nobody has typed anything else. */
  leadsTo: string;
  /** The page that may be shown in frames of others, where it is about one. */
  page: { address: string; title: string } | null;
  /** What a badge may stand for; the first is chosen. */
  choices: BadgeChoice[];
  language: string;
}

const SHOWS: Record<BadgeShows, string> = {
  state: 'how it stands',
  uptime: 'its figure over a span',
  time: 'how fast it answers',
  calm: 'the time since its last outage',
  line: 'its calm line',
};

const escape = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');

/** A badge as it is chosen, with the ways to take it along. */
export function BadgeForm({ pictures, leadsTo, page, choices, language }: BadgeFormProps) {
  const [of, setOf] = useState(choices[0]!.value);
  const [shows, setShows] = useState<BadgeShows>('state');
  const [days, setDays] = useState('90');
  const [label, setLabel] = useState(choices[0]!.label);
  const [light, setLight] = useState('both');
  const [shape, setShape] = useState('round');
  const [size, setSize] = useState('1');
  const [ground, setGround] = useState('');
  const [lang, setLang] = useState(language);
  const [as, setAs] = useState('svg');
  const [target, setTarget] = useState(leadsTo);
  const choose = (next: string) => {
    // Words that nobody has typed follow what they stand for.
    const nameOf = (value: string) => choices.find((one) => one.value === value)?.label;
    if (label === nameOf(of)) setLabel(nameOf(next) ?? '');
    setOf(next);
  };
  const usual: Record<string, string> = {
    shows: 'state',
    days: '90',
    label: '',
    light: 'both',
    ground: '',
    shape: 'round',
    size: '1',
    lang: language,
  };
  const query = new URLSearchParams(
    Object.entries({ shows, days, label, light, shape, ground: ground.slice(1), size, lang }).filter(
      ([name, value]) => value !== usual[name],
    ),
  ).toString();
  const picture = `${pictures}${of}.${as}${query ? `?${query}` : ''}`;
  const alt = `${label || choices.find(({ value }) => value === of)?.label || ''}: ${SHOWS[shows]}`;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-6 lg:grid-cols-2">
      <form className="grid gap-4 sm:grid-cols-2" aria-label="A badge">
        <SelectField label="Stands for" value={of} options={choices} onChoose={choose} />
        <SelectField
          label="Shows"
          value={shows}
          options={BADGE_SHOWS.map((value) => ({ value, text: SHOWS[value] }))}
          onChoose={(value) => setShows(value as BadgeShows)}
        />
        <TextField label="Words before it" value={label} onChange={(event) => setLabel(event.target.value)} />
        <SelectField
          label="Over"
          value={days}
          options={LINE_DAYS.map((value) => ({ value: String(value), text: `${value} days` }))}
          onChoose={setDays}
        />
        <SelectField
          label="Light"
          value={light}
          options={optionsOf({ both: 'as whoever sees it likes', light: 'by day', dark: 'by night' })}
          onChoose={setLight}
        />
        <SelectField
          label="Shape"
          value={shape}
          options={optionsOf({ round: 'round', square: 'square', bare: 'without a ground' })}
          onChoose={setShape}
        />
        <div className="flex items-end gap-2">
          <TextField
            label="Ground"
            type="color"
            className="h-10 w-16 p-1"
            value={ground || '#fffef9'}
            onChange={(event) => setGround(event.target.value)}
          />
          {ground === '' ? (
            <span className="text-muted pb-2 text-[0.875rem]">that of the light</span>
          ) : (
            <Button onClick={() => setGround('')}>Give it back</Button>
          )}
        </div>
        <SelectField
          label="Size"
          value={size}
          options={['1', '1.5', '2', '3'].map((value) => ({
            value,
            text: value === '1' ? 'as it is' : `${value} times`,
          }))}
          onChoose={setSize}
        />
        <SelectField
          label="As"
          value={as}
          help={
            as === 'png'
              ? 'For what shows no drawings, such as mail; by day where no light is chosen.'
              : undefined
          }
          options={optionsOf({ svg: 'a drawing (SVG)', png: 'a picture (PNG)' })}
          onChoose={setAs}
        />
        <SelectField label="Language" value={lang} options={optionsOf(LANGUAGES)} onChoose={setLang} />
        <div className="sm:col-span-2">
          <TextField label="Leads to" value={target} onChange={(event) => setTarget(event.target.value)} />
        </div>
      </form>
      <div className="flex min-w-0 flex-col gap-4">
        <div className="sheet grid min-h-24 place-items-center p-4">
          <img src={picture} alt={alt} />
        </div>
        <CopyLine
          label="HTML"
          text={`<a href="${escape(target)}"><img src="${escape(picture)}" alt="${escape(alt)}"></a>`}
        />
        <CopyLine label="Markdown" text={`[![${alt}](${picture})](${target})`} />
        <CopyLine label="Address of the picture" text={picture} />
        {page && (
          <>
            <CopyLine
              label="A frame with what stands on the page"
              text={`<iframe src="${escape(page.address)}embed" title="${escape(page.title)}" width="400" height="180" loading="lazy"></iframe>`}
            />
            <CopyLine
              label="A bar that shows only while something is wrong"
              text={`<script src="${escape(page.address)}bar.js" async></script>`}
            />
          </>
        )}
      </div>
    </div>
  );
}
