import { keep } from './keep';

/** Lets a visitor choose between day and night. */
export function beginTheme(): void {
  const button = document.querySelector<HTMLButtonElement>('button.theme');
  if (!button) return;
  button.hidden = false;
  button.addEventListener('click', () => {
    const root = document.documentElement;
    const dark =
      root.dataset.theme === 'dark' ||
      (root.dataset.theme === undefined && matchMedia('(prefers-color-scheme: dark)').matches);
    root.dataset.theme = dark ? 'light' : 'dark';
    keep('lantern-light', root.dataset.theme);
  });
}
