'use client';

import { Search } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useEffectEvent, useId, useRef, useState } from 'react';
import { Lantern } from '@/ui/basic/lantern';
import { useFoundWatches, type FoundWatch } from '@/ui/form/use-found-watches';

const MOST_SHOWN = 8;
/** Finds a watch by a part of its name (WAI-ARIA combobox pattern). Names are asked for as they are typed. */
export function FindWatch() {
  const router = useRouter();
  const listId = useId();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState('');
  const [active, setActive] = useState(0);
  /** On a phone the field comes out at a touch. */
  const [shown, setShown] = useState(false);
  /** Somebody who is faster than the answer goes where it leads. */
  const hasty = useRef(false);
  const wanted = text.trim();
  const last = useFoundWatches(wanted, MOST_SHOWN);
  // While more is typed, what was found for less stays, as far as it fits.
  const found = wanted
    ? (last?.watches.filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase())) ?? [])
    : [];
  const isKnown = last?.words === wanted;
  const go = (watch: FoundWatch | undefined) => {
    if (!watch) return;
    setText('');
    setShown(false);
    input.current?.blur();
    router.push(`/watches/${watch.id}`);
  };
  const arrived = useEffectEvent((watches: readonly FoundWatch[]) => {
    if (hasty.current) go(watches[0]);
    hasty.current = false;
  });
  useEffect(() => {
    if (last) arrived(last.watches);
  }, [last]);
  return (
    <>
      <button
        type="button"
        aria-label="Find a watch"
        aria-expanded={shown}
        className="text-muted hover:text-ink grid size-9 place-items-center rounded-lg sm:hidden"
        onClick={() => {
          setShown(!shown);
          if (!shown) requestAnimationFrame(() => input.current?.focus());
        }}
      >
        <Search size={19} aria-hidden />
      </button>
      <div
        className={`relative max-sm:absolute max-sm:inset-x-4 max-sm:top-full max-sm:z-30 max-sm:mt-1 ${shown ? '' : 'max-sm:hidden'}`}
      >
        <input
          ref={input}
          data-find-watch
          role="combobox"
          aria-expanded={found.length > 0}
          aria-controls={listId}
          aria-activedescendant={found[active] ? `${listId}-${found[active].id}` : undefined}
          aria-label="Find a watch"
          placeholder="Find a watch"
          className="border-edge bg-card placeholder:text-muted w-44 rounded-lg border px-3 py-1.5 max-sm:w-full max-sm:shadow-lg lg:w-52"
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setActive(0);
            hasty.current = false;
          }}
          onKeyDown={(event) => {
            if (event.key === 'Escape') {
              setText('');
              input.current?.blur();
            } else if (event.key === 'Enter') {
              if (isKnown) go(found[active]);
              else hasty.current = true;
            } else if (event.key === 'ArrowDown') setActive((i) => Math.min(i + 1, found.length - 1));
            else if (event.key === 'ArrowUp') setActive((i) => Math.max(i - 1, 0));
            else return;
            event.preventDefault();
          }}
          onBlur={() => setTimeout(() => setText(''), 150)}
        />
        {text === '' && (
          <kbd className="figures border-rule bg-quiet text-muted pointer-events-none absolute top-1.5 right-2 rounded border px-1.5 text-[0.75rem] max-sm:hidden">
            /
          </kbd>
        )}
        {wanted !== '' && (
          <ul
            id={listId}
            role="listbox"
            aria-label="Watches"
            className="sheet absolute z-30 mt-1 w-72 p-1 shadow-lg max-sm:w-full"
          >
            {found.length === 0 && isKnown && (
              <li className="text-muted px-3 py-2">No watch has “{text}” in its name.</li>
            )}
            {found.map((watch, i) => (
              <li
                key={watch.id}
                id={`${listId}-${watch.id}`}
                role="option"
                aria-selected={i === active}
                className={`flex cursor-pointer items-center gap-2 rounded-md px-3 py-1.5 ${i === active ? 'bg-quiet' : ''}`}
                onMouseDown={() => go(watch)}
              >
                <Lantern state={watch.state} title={watch.state} /> {watch.name}
              </li>
            ))}
          </ul>
        )}
      </div>
    </>
  );
}
