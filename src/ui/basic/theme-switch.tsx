'use client';

import { Moon } from 'lucide-react';

/** Changes between paper and night; the choice is kept in a cookie for the next visit. */
export function flipTheme(): void {
  const root = document.documentElement;
  const dark =
    root.dataset.theme === 'dark' ||
    (root.dataset.theme === undefined && matchMedia('(prefers-color-scheme: dark)').matches);
  root.dataset.theme = dark ? 'light' : 'dark';
  document.cookie = `lantern_theme=${root.dataset.theme}; path=/; max-age=31536000; samesite=lax`;
}

export function ThemeSwitch() {
  return (
    <button
      type="button"
      onClick={flipTheme}
      aria-label="Change between day and night"
      title="Change between day and night"
      className="text-muted hover:text-ink grid size-9 place-items-center rounded-lg"
    >
      <Moon size={18} aria-hidden />
    </button>
  );
}
