import { sayTimes } from './times';

/** The opened day, the mark it was opened by, and the line it belongs to. */
let open: { panel: HTMLElement; mark: string; service: string } | null = null;

function markCalled(href: string): SVGAElement | undefined {
  return [...document.querySelectorAll<SVGAElement>('.line a')].find(
    (mark) => mark.getAttribute('href') === href,
  );
}

function close(): void {
  if (!open) return;
  const mark = markCalled(open.mark);
  mark?.removeAttribute('aria-expanded');
  open.panel.remove();
  open = null;
  mark?.focus();
}

function panelOf(sheet: Document, href: string): HTMLElement | null {
  const [, key] = href.split('#');
  const service = sheet.getElementById(key ?? '');
  const title = sheet.querySelector('.lead')?.textContent;
  if (!service || !title) return null;
  const panel = document.createElement('div');
  panel.className = 'opened';
  panel.setAttribute('role', 'region');
  panel.setAttribute('aria-label', title);
  const top = document.createElement('p');
  top.className = 'top';
  const heading = document.createElement('strong');
  heading.textContent = title;
  const link = document.createElement('a');
  link.href = href;
  link.textContent = document.documentElement.dataset.dayLink ?? title;
  const away = document.createElement('button');
  away.type = 'button';
  away.textContent = '✕';
  away.setAttribute('aria-label', document.documentElement.dataset.dayClose ?? '✕');
  away.addEventListener('click', close);
  const ends = document.createElement('span');
  ends.append(link, ' ', away);
  top.append(heading, ends);
  service.removeAttribute('id');
  // Links of the day's sheet go from there; here they go from the page.
  for (const a of service.querySelectorAll<HTMLAnchorElement>('a[href^="../"]')) {
    a.setAttribute('href', a.getAttribute('href')!.replace(/^\.\.\//, ''));
  }
  panel.append(top, service);
  return panel;
}

async function openDay(mark: SVGAElement): Promise<void> {
  const href = mark.getAttribute('href')!;
  const id = mark.closest<HTMLElement>('.service')?.id;
  const again = open?.mark === href;
  close();
  if (again || !id) return;
  const answer = await fetch(href);
  if (!answer.ok) throw new Error(`answered ${answer.status}`);
  const panel = panelOf(new DOMParser().parseFromString(await answer.text(), 'text/html'), href);
  if (!panel) throw new Error('nothing of this line is there');
  sayTimes(panel);
  open = { panel, mark: href, service: id };
  // While it was on its way, the lines may have been drawn anew.
  keepDay();
}

/** A mark opens its day below the line it stands on; where that cannot be had, its link is followed. */
export function beginDays(): void {
  document.addEventListener('click', (event) => {
    const mark = (event.target as Element).closest<SVGAElement>('.line a');
    if (!mark || event.ctrlKey || event.metaKey || event.shiftKey) return;
    event.preventDefault();
    openDay(mark).catch(() => location.assign(mark.getAttribute('href')!));
  });
  document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape') close();
  });
}

/** Puts the opened day below its line, also after the lines were drawn anew. */
export function keepDay(): void {
  if (!open) return;
  const service = document.getElementById(open.service);
  const mark = markCalled(open.mark);
  if (!service || !mark) {
    open = null;
    return;
  }
  service.append(open.panel);
  mark.setAttribute('aria-expanded', 'true');
}
