'use client';

import { Command } from 'cmdk';
import { Keyboard, LogOut, Moon, Search } from 'lucide-react';
import { usePathname, useRouter } from 'next/navigation';
import { Dialog } from 'radix-ui';
import { useEffect, useEffectEvent, useRef, useState, type ReactNode } from 'react';
import { flushSync } from 'react-dom';
import { problemOf } from '@/ui/basic/call-api';
import { Lantern } from '@/ui/basic/lantern';
import { flipTheme } from '@/ui/basic/theme-switch';
import { useFoundWatches } from '@/ui/form/use-found-watches';
import { LOOK_NOW_EVENT, OPEN_KEYS_EVENT, OPEN_PALETTE_EVENT } from './keys';
import { leave } from './leave';
import { DEEDS, MENU, PLACES } from './places';

const MOST_WATCHES = 8;
/** What was found on the server is not judged again here. */
const WATCH = 'watch ';

/** Whether every word that is typed stands in what an item is called, or is looked for by. */
function fits(value: string, typed: string, keywords: readonly string[] = []): number {
  if (value.startsWith(WATCH)) return 1;
  const words = [value, ...keywords].join(' ').toLowerCase();
  const all = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return all.every((word) => words.includes(word)) ? 1 : 0;
}

const GROUP =
  '[&_[cmdk-group-heading]]:text-muted [&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-[0.8125rem]';
const ITEM =
  'flex cursor-pointer items-center gap-2 rounded-md px-3 py-1.5 data-[selected=true]:bg-quiet [&_svg]:shrink-0';

interface ItemProps {
  value: string;
  words?: string;
  children: ReactNode;
  onSelect: () => void;
}

function Item({ value, words = '', children, onSelect }: ItemProps) {
  return (
    <Command.Item value={value} keywords={[words]} className={ITEM} onSelect={onSelect}>
      {children}
    </Command.Item>
  );
}

interface ContentProps {
  onDone: () => void;
}

/** What can be found and done, narrowed by what is typed. Watches are looked for on the server. */
function PaletteContent({ onDone }: ContentProps) {
  const router = useRouter();
  const path = usePathname();
  const here = /^\/watches\/(\d+)$/.exec(path)?.[1];
  const [text, setText] = useState('');
  const [problem, setProblem] = useState('');
  /** Somebody who is faster than the answer goes where it leads. */
  const hasty = useRef(false);
  const wanted = text.trim();
  const last = useFoundWatches(wanted, MOST_WATCHES);
  // While more is typed, what was found for less stays, as far as it fits.
  const found = wanted
    ? (last?.watches.filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase())) ?? [])
    : [];
  const isKnown = wanted === '' || last?.words === wanted;
  const go = (href: string) => {
    onDone();
    router.push(href);
  };
  const arrived = useEffectEvent((first: { id: number } | undefined) => {
    if (hasty.current && first) go(`/watches/${first.id}`);
    hasty.current = false;
  });
  useEffect(() => {
    if (last) arrived(last.watches[0]);
  }, [last]);
  const send = async (act: string) => {
    const wrong = await problemOf('POST', `/watches/${here}/${act}`, {});
    if (wrong !== null) return setProblem(wrong);
    onDone();
    router.refresh();
  };
  const act = (run: () => void) => () => {
    onDone();
    run();
  };
  const event = (name: string) => act(() => window.dispatchEvent(new Event(name)));
  return (
    <Command loop label="Find a watch, or something to do" filter={fits}>
      <div className="border-rule flex items-center gap-2 border-b px-4">
        <Search size={17} aria-hidden className="text-muted" />
        <Command.Input
          autoFocus
          value={text}
          onValueChange={(typed) => {
            setText(typed);
            hasty.current = false;
          }}
          onKeyDown={(event) => {
            const offers = event.currentTarget.closest('[cmdk-root]')?.querySelector('[cmdk-item]');
            if (event.key !== 'Enter' || isKnown || offers) return;
            hasty.current = true;
            event.preventDefault();
          }}
          placeholder="Find a watch, or something to do"
          className="placeholder:text-muted w-full bg-transparent py-3 outline-none"
        />
      </div>
      <Command.List className="max-h-[min(24rem,60vh)] overflow-y-auto p-1.5">
        {isKnown && (
          <Command.Empty className="text-muted px-3 py-2">
            No watch has “{text}” in its name, and nothing to do is called that.
          </Command.Empty>
        )}
        {found.length > 0 && (
          <Command.Group heading="Watches" className={GROUP}>
            {found.map(({ id, name, state }) => (
              <Item key={id} value={`${WATCH}${id}`} onSelect={() => go(`/watches/${id}`)}>
                <Lantern state={state} title={state} /> {name}
              </Item>
            ))}
          </Command.Group>
        )}
        {here && (
          <Command.Group heading="This watch" className={GROUP}>
            <Item value="Look now" words="again force check" onSelect={event(LOOK_NOW_EVENT)}>
              Look now
            </Item>
            <Item value="Change it" words="edit settings" onSelect={() => go(`/watches/${here}/change`)}>
              Change it
            </Item>
            <Item value="Pause it" words="stop" onSelect={() => void send('pause')}>
              Pause it
            </Item>
            <Item value="End its pause" words="resume" onSelect={() => void send('resume')}>
              End its pause
            </Item>
            <Item
              value="One more like it"
              words="copy clone"
              onSelect={() => go(`/watches/new?like=${here}`)}
            >
              One more like it
            </Item>
            <Item value="All its outages" words="history" onSelect={() => go(`/outages?watch=${here}`)}>
              All its outages
            </Item>
          </Command.Group>
        )}
        <Command.Group heading="Do" className={GROUP}>
          {DEEDS.map(({ href, label, words }) => (
            <Item key={href} value={label} words={words} onSelect={() => go(href)}>
              {label}
            </Item>
          ))}
          <Item value="Change between day and night" words="dark light theme" onSelect={act(flipTheme)}>
            <Moon size={16} aria-hidden /> Change between day and night
          </Item>
          <Item value="Keys" words="keyboard shortcuts help" onSelect={event(OPEN_KEYS_EVENT)}>
            <Keyboard size={16} aria-hidden /> Keys
          </Item>
          <Item value="Sign out" words="leave log" onSelect={act(() => void leave())}>
            <LogOut size={16} aria-hidden /> Sign out
          </Item>
        </Command.Group>
        <Command.Group heading="Go to" className={GROUP}>
          {PLACES.map(({ href, label }) => (
            <Item key={href} value={`Go to ${label}`} onSelect={() => go(href)}>
              {label}
            </Item>
          ))}
          {MENU.map(({ href, label, Icon }) => (
            <Item key={href} value={`Go to ${label}`} onSelect={() => go(href)}>
              <Icon size={16} aria-hidden /> {label}
            </Item>
          ))}
        </Command.Group>
      </Command.List>
      <p role="alert" className="text-down-text px-4 empty:hidden">
        {problem}
      </p>
    </Command>
  );
}

/** Finds a watch by a part of its name, and everything one can do: from anywhere, by / or Ctrl+K. */
export function Palette() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    // At once: the very next key belongs into its field, and must not be taken for one of the desk's own.
    const show = () => flushSync(() => setOpen(true));
    window.addEventListener(OPEN_PALETTE_EVENT, show);
    return () => window.removeEventListener(OPEN_PALETTE_EVENT, show);
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger
        aria-label="Find a watch, or something to do"
        className="border-edge bg-card text-muted hover:text-ink flex items-center gap-2 rounded-lg py-1.5 max-sm:size-9 max-sm:justify-center sm:w-44 sm:border sm:px-3 lg:w-52"
      >
        <Search size={17} aria-hidden />
        <span className="max-sm:hidden">Find a watch</span>
        <kbd
          aria-hidden
          className="figures border-rule bg-quiet ml-auto rounded border px-1.5 text-[0.75rem] max-sm:hidden"
        >
          /
        </kbd>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="sheet fixed top-[12vh] left-1/2 z-50 w-[min(34rem,94vw)] -translate-x-1/2 overflow-hidden p-0"
        >
          <Dialog.Title className="sr-only">Find a watch, or something to do</Dialog.Title>
          <PaletteContent onDone={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
