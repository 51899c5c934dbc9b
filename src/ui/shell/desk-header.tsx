'use client';

import { DropdownMenu } from 'radix-ui';
import { Keyboard, LogOut, Menu, Plus } from 'lucide-react';
import { usePathname } from 'next/navigation';
import { useEffect, useRef } from 'react';
import { leave } from './leave';
import { OPEN_KEYS_EVENT } from './keys';
import { Palette } from './palette';
import { MENU, PLACES } from './places';
import { LanternMark } from '@/ui/basic/lantern';
import { Link } from '@/ui/basic/link';
import { ThemeSwitch } from '@/ui/basic/theme-switch';

const ITEM =
  'flex cursor-pointer items-center gap-2 rounded-md px-3 py-2 outline-none data-[highlighted]:bg-quiet';

function AccountMenu({ email }: { email: string }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="Account and more"
        className="text-muted hover:text-ink grid size-9 place-items-center rounded-lg"
      >
        <Menu size={19} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="sheet z-30 min-w-56 p-1.5 shadow-lg">
          <DropdownMenu.Label className="text-muted px-3 py-1.5 text-[0.8125rem]">{email}</DropdownMenu.Label>
          {MENU.map(({ href, label, Icon }) => (
            <DropdownMenu.Item key={href} asChild>
              <Link href={href} className={ITEM}>
                <Icon size={16} aria-hidden /> {label}
              </Link>
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item
            className={ITEM}
            onSelect={() => window.dispatchEvent(new Event(OPEN_KEYS_EVENT))}
          >
            <Keyboard size={16} aria-hidden /> Keys
          </DropdownMenu.Item>
          <DropdownMenu.Item className={ITEM} onSelect={() => void leave()}>
            <LogOut size={16} aria-hidden /> Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function DeskHeader({ email }: { email: string }) {
  const path = usePathname();
  const nav = useRef<HTMLElement>(null);
  // On a phone the places are wider than the screen: where one is stands in the middle of it.
  useEffect(() => {
    const row = nav.current;
    const here = row?.querySelector('[aria-current]')?.getBoundingClientRect();
    if (!row || !here) return;
    const { left, width } = row.getBoundingClientRect();
    row.scrollLeft += here.left + here.width / 2 - (left + width / 2);
  }, [path]);
  const isHere = (place: (typeof PLACES)[number]) =>
    path === place.href || path.startsWith(`${place.also}/`) || path === place.also;
  return (
    <header className="border-rule relative border-b">
      <div className="mx-auto flex max-w-[1280px] flex-wrap items-center gap-x-6 px-4 md:px-8">
        <Link href="/" className="flex items-center gap-2 py-3 font-serif text-[1.3rem] font-medium">
          <LanternMark /> Calm Lantern
        </Link>
        <nav
          ref={nav}
          aria-label="Main"
          className="order-last flex w-full gap-5 overflow-x-auto md:order-none md:w-auto"
        >
          {PLACES.map((place) => (
            <Link
              key={place.href}
              href={place.href}
              aria-current={isHere(place) ? 'page' : undefined}
              className="text-muted hover:text-ink aria-[current]:border-lamp aria-[current]:text-ink border-b-2 border-transparent py-2.5 font-semibold whitespace-nowrap md:py-4"
            >
              {place.label}
            </Link>
          ))}
        </nav>
        <div className="ml-auto flex items-center gap-1.5">
          <Palette />
          <Link
            href="/watches/new"
            className="bg-button text-button-ink border-button ml-2 inline-flex min-h-9 items-center gap-1 rounded-lg border px-3 font-semibold whitespace-nowrap"
          >
            <Plus size={17} aria-hidden className="md:hidden" />
            <span className="max-md:sr-only">Add watch</span>
          </Link>
          <ThemeSwitch />
          <AccountMenu email={email} />
        </div>
      </div>
    </header>
  );
}
