import { MOMENT_FORMS, type MomentForm } from '@/core/languages/moments';
import { keep, kept } from './keep';

const own = Intl.DateTimeFormat().resolvedOptions().timeZone;
const locale = document.documentElement.lang;

function isForm(name: string | undefined): name is MomentForm {
  return name !== undefined && name in MOMENT_FORMS;
}

/** Says all times below an element by the clocks of a zone. */
function sayIn(zone: string, within: ParentNode): void {
  for (const time of within.querySelectorAll('time')) {
    const { form } = time.dataset;
    const at = Date.parse(time.dateTime);
    if (isForm(form) && !Number.isNaN(at)) {
      time.textContent = new Intl.DateTimeFormat(locale, { ...MOMENT_FORMS[form], timeZone: zone }).format(
        at,
      );
    }
  }
}

/** Two names of a zone may mean the same clocks. */
function areAlike(one: string, other: string): boolean {
  const read = (zone: string, at: Date) => at.toLocaleString('en', { timeZone: zone });
  const year = new Date().getUTCFullYear();
  return [0, 3, 6, 9].every((month) => {
    const at = new Date(Date.UTC(year, month, 1));
    return read(one, at) === read(other, at);
  });
}

let shown: string | null = null;

/** Times that have come since are said as the others are. */
export function sayTimes(within: ParentNode = document): void {
  if (shown !== null) sayIn(shown, within);
}

/** Lets a visitor change between the page's own clocks and their own. */
export function beginTimes(): void {
  const place = document.querySelector<HTMLElement>('.zone');
  const pages = place?.dataset.zone;
  if (!place || !pages || areAlike(own, pages)) return;
  const button = document.createElement('button');
  button.type = 'button';
  button.className = 'zone';
  const words = { theirs: place.textContent, yours: (place.dataset.yours ?? '').replace('{zone}', own) };
  const show = (yours: boolean) => {
    shown = yours ? own : pages;
    button.textContent = yours ? words.yours : words.theirs;
    button.setAttribute('aria-pressed', String(yours));
    sayTimes();
  };
  button.addEventListener('click', () => {
    const yours = shown !== own;
    keep('lantern-times', yours ? 'yours' : 'page');
    show(yours);
  });
  place.replaceWith(button);
  show(kept('lantern-times') !== 'page');
}
