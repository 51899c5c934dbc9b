'use client';

import { useState } from 'react';
import type { WordsAdvice } from '@/core/expect/words-advice';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { AreaField } from '@/ui/form/fields';

export interface PageWordsAnswer {
  problem: string | null;
  source: string;
  visible: string;
  advice: WordsAdvice[];
}

/** Asks for the page of a form, and what speaks against its words. */
export function askPageWords(body: Record<string, unknown>, watchId?: number) {
  return callApi<PageWordsAnswer>('POST', watchId ? `/page-words?watch=${watchId}` : '/page-words', body);
}

interface PageWordsProps {
  body: () => Record<string, unknown>;
  watchId?: number;
  onPick: (words: string) => void;
  onRefused: (detail: string, fields: Record<string, string>) => void;
}

const LONGEST_PICK = 500;

/** Shows a page as read and as source; a piece that is selected becomes the expected words. */
export function PageWords({ body, watchId, onPick, onRefused }: PageWordsProps) {
  const [page, setPage] = useState<PageWordsAnswer | null>(null);
  const [as, setAs] = useState<'visible' | 'source'>('visible');
  const [picked, setPicked] = useState('');
  const [busy, setBusy] = useState(false);
  const fetchPage = async () => {
    setBusy(true);
    onRefused('', {});
    // The page is fetched whatever its words may be so far.
    const given = body();
    const settings = { ...(given.settings as object), words: '' };
    const result = await askPageWords({ ...given, settings }, watchId);
    setBusy(false);
    setPage(result.ok ? result.value : null);
    if (!result.ok) onRefused(result.detail, result.fields);
  };
  return (
    <div className="flex flex-col gap-2">
      <div className="flex flex-wrap items-center gap-3">
        <Button disabled={busy} onClick={() => void fetchPage()}>
          {busy ? 'Fetching the page…' : 'Pick them from the page'}
        </Button>
        {page && !page.problem && (
          <label className="text-[0.875rem]">
            Show it{' '}
            <select
              className="border-edge bg-card rounded border px-2 py-1"
              value={as}
              onChange={(event) => setAs(event.target.value as 'visible' | 'source')}
            >
              <option value="visible">as visitors read it</option>
              <option value="source">as source</option>
            </select>
          </label>
        )}
      </div>
      {page?.problem && (
        <p role="alert" className="text-down-text font-semibold">
          {page.problem}
        </p>
      )}
      {page && !page.problem && (
        <>
          <AreaField
            label="Select a piece of it"
            help="With the mouse, or with Shift and the arrow keys."
            readOnly
            rows={8}
            className="figures border-edge bg-quiet w-full rounded-lg border px-3 py-2 text-[0.8125rem]"
            value={page[as]}
            onSelect={(event) => {
              const { value, selectionStart, selectionEnd } = event.currentTarget;
              setPicked(value.slice(selectionStart, selectionEnd).trim().slice(0, LONGEST_PICK));
            }}
          />
          <div>
            <Button disabled={picked === ''} onClick={() => onPick(picked)}>
              {picked === ''
                ? 'Take what is selected'
                : `Take “${picked.length > 40 ? `${picked.slice(0, 40)}…` : picked}”`}
            </Button>
          </div>
        </>
      )}
    </div>
  );
}

/** What speaks against the words, each with its proof. */
export function WordsWarning({ advice }: { advice: readonly WordsAdvice[] }) {
  if (advice.length === 0) return null;
  return (
    <div role="alert" className="border-late bg-wash rounded-lg border-l-4 px-4 py-3">
      <p className="font-semibold">These words may not prove what you want them to prove.</p>
      <ul className="mt-1">
        {advice.map((one) => (
          <li key={one.reason} className="mt-1">
            {one.sentence}
            {one.proof && (
              <code className="figures text-muted block text-[0.8125rem] break-words">{one.proof}</code>
            )}
          </li>
        ))}
      </ul>
      <p className="text-muted mt-2 text-[0.875rem]">Choose other words, or save once more to keep them.</p>
    </div>
  );
}
