import { colourText, contrastOf, inkOn, readableOn, readColour, type Rgb } from './colour';
import type { PageLook } from './page';

/** The grounds of a page, by day and by night. */
export const GROUNDS: Readonly<Record<'light' | 'dark', Rgb>> = {
  light: readColour('#f6f3eb')!,
  dark: readColour('#131a25')!,
};

export interface AccentFound {
  theme: 'light' | 'dark';
  /** By how much the chosen colour stands out against the ground. */
  contrast: number;
  /** What is shown: the chosen one, or the nearest that can be read. */
  shown: string;
}

/** How a chosen colour does on both grounds. */
export function accentsOf(accent: string): AccentFound[] {
  const colour = readColour(accent);
  if (!colour) return [];
  return (['light', 'dark'] as const).map((theme) => {
    const ground = GROUNDS[theme];
    return {
      theme,
      contrast: Math.round(contrastOf(colour, ground) * 10) / 10,
      shown: colourText(readableOn(colour, ground)),
    };
  });
}

/** The page's own colours and rules as a sheet of style; empty where it looks like any other. `own` is cleaned. */
export function lookCss({ accent }: Pick<PageLook, 'accent'>, own: string): string {
  const rules: string[] = [];
  for (const { theme, shown } of accent ? accentsOf(accent) : []) {
    const ink = colourText(inkOn(readColour(shown)!));
    const block = `{--accent:${shown};--accent-ink:${ink}}`;
    if (theme === 'light') rules.push(`:root${block}`);
    else {
      rules.push(`@media (prefers-color-scheme:dark){:root:not([data-theme='light'])${block}}`);
      rules.push(`:root[data-theme='dark']${block}`);
    }
  }
  if (accent) rules.push('.brand a,.links a,[aria-current=true]{color:var(--accent)}');
  if (own) rules.push(own);
  return rules.join('\n');
}
