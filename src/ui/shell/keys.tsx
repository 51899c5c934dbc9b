'use client';

import { Dialog } from 'radix-ui';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { Button } from '@/ui/basic/button';

export const OPEN_KEYS_EVENT = 'lantern-open-keys';
export const OPEN_PALETTE_EVENT = 'lantern-open-palette';
/** Sent when the key for "look now" is pressed; a watch's screen listens. */
export const LOOK_NOW_EVENT = 'lantern-look-now';

const KEYS = [
  { key: '/', does: 'Find a watch, or something to do; Ctrl and K do the same' },
  { key: 'a', does: 'Add a watch' },
  { key: 'h', does: 'Home: all watches' },
  { key: '↓ ↑', does: 'Go from watch to watch' },
  { key: 'Enter', does: 'Open the watch you are on' },
  { key: 'l', does: 'Look now, on a watch’s own screen' },
  { key: '?', does: 'This list' },
];

const OFF = 'lantern_keys_off';

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest(
      'input, textarea, select, [role=slider], [role=dialog], [role=alertdialog], [role=menu]',
    ) !== null
  );
}

function moveAmongWatches(step: 1 | -1): boolean {
  const links = [...document.querySelectorAll<HTMLElement>('[data-watch-link]')];
  if (links.length === 0) return false;
  const here = links.indexOf(document.activeElement as HTMLElement);
  if (here < 0 && step < 0) return false;
  links[Math.min(links.length - 1, Math.max(0, here + step))]?.focus();
  return true;
}

/** The desk's own keys, and the list of them. Single keys can be turned off (WCAG 2.1.4). */
export function Keys() {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [off, setOff] = useState(false);

  useEffect(() => {
    const show = () => {
      setOff(localStorage.getItem(OFF) === '1');
      setOpen(true);
    };
    const act = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === 'k') {
        window.dispatchEvent(new Event(OPEN_PALETTE_EVENT));
        return event.preventDefault();
      }
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (event.key !== '?' && localStorage.getItem(OFF) === '1') return;
      const done = () => event.preventDefault();
      switch (event.key) {
        case '/':
          window.dispatchEvent(new Event(OPEN_PALETTE_EVENT));
          return done();
        case 'a':
          router.push('/watches/new');
          return done();
        case 'h':
          router.push('/');
          return done();
        case 'l':
          window.dispatchEvent(new Event(LOOK_NOW_EVENT));
          return done();
        case '?':
          show();
          return done();
        case 'ArrowDown':
          if (moveAmongWatches(1)) done();
          return;
        case 'ArrowUp':
          if (moveAmongWatches(-1)) done();
          return;
      }
    };
    window.addEventListener('keydown', act);
    window.addEventListener(OPEN_KEYS_EVENT, show);
    return () => {
      window.removeEventListener('keydown', act);
      window.removeEventListener(OPEN_KEYS_EVENT, show);
    };
  }, [router]);

  const flip = () => {
    localStorage.setItem(OFF, off ? '0' : '1');
    setOff(!off);
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content className="sheet fixed top-1/5 left-1/2 z-50 w-[min(28rem,92vw)] -translate-x-1/2 p-6">
          <Dialog.Title>Keys</Dialog.Title>
          <Dialog.Description className="text-muted mb-3">
            {off ? 'Single keys are off; only ? works.' : 'Press one anywhere but in a field.'}
          </Dialog.Description>
          <dl className="grid grid-cols-[5rem_1fr] gap-y-1.5">
            {KEYS.map((k) => (
              <div key={k.key} className="contents">
                <dt>
                  <kbd className="figures border-rule bg-quiet rounded border px-2 py-0.5">{k.key}</kbd>
                </dt>
                <dd>{k.does}</dd>
              </div>
            ))}
          </dl>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={flip}>{off ? 'Turn single keys on' : 'Turn single keys off'}</Button>
            <Dialog.Close asChild>
              <Button look="strong">Close</Button>
            </Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
