import { keepDay } from './days';
import { sayTimes } from './times';

/** A page that changes all the time is fetched no more often. */
const LEAST_REST_MS = 3000;
/** Figures of a span grow old by themselves. */
const RENEW_MS = 60_000;

/** Draws the page anew when something on it changes, where the browser keeps what was opened and what has the focus. */
export function beginLive(): void {
  const main = document.querySelector('main');
  const { live } = document.documentElement.dataset;
  if (!main || live === undefined) return;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let last = performance.now();
  const renew = async () => {
    last = performance.now();
    const answer = await fetch(location.href, { cache: 'no-cache' });
    if (!answer.ok) return;
    const sheet = new DOMParser().parseFromString(await answer.text(), 'text/html');
    const drawn = sheet.querySelector('main');
    if (!drawn || drawn.innerHTML === main.innerHTML) return;
    const focus = document.activeElement?.getAttribute('href');
    main.replaceChildren(...drawn.childNodes);
    document.title = sheet.title;
    sayTimes(main);
    keepDay();
    if (focus) main.querySelector<HTMLElement>(`[href="${CSS.escape(focus)}"]`)?.focus();
  };
  const soon = () => {
    if (timer !== undefined) return;
    timer = setTimeout(
      () => {
        timer = undefined;
        renew().catch(() => undefined);
      },
      Math.max(300, last + LEAST_REST_MS - performance.now()),
    );
  };
  new EventSource(live).addEventListener('changed', soon);
  setInterval(() => {
    if (!document.hidden) soon();
  }, RENEW_MS);
}
