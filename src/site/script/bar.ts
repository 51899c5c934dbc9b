/**
 * A bar at the top of somebody else's page, only while something is wrong: one script, no cookies, nothing fetched but the
 * state of the page it came from.
 */
interface State {
  lead: string;
  page: { title: string; address: string };
  services: { state: string }[];
  incidents: unknown[];
}

const own = document.currentScript as HTMLScriptElement | null;

async function showBar(): Promise<void> {
  if (!own) return;
  const base = new URL('./', own.src);
  const answer = await fetch(new URL('state.json', base));
  if (!answer.ok) return;
  const state = (await answer.json()) as State;
  const wrong = state.services.some((one) => ['out', 'partly', 'slow'].includes(one.state));
  if (!wrong && state.incidents.length === 0) return;
  const bar = document.createElement('div');
  bar.setAttribute('role', 'status');
  bar.style.cssText =
    'all:initial;display:flex;gap:1em;justify-content:center;padding:.6em 1em;font:15px/1.4 system-ui,sans-serif;background:#1b2632;color:#fffef9';
  const words = document.createElement('span');
  words.textContent = state.lead;
  const link = document.createElement('a');
  link.href = base.href;
  link.textContent = state.page.title;
  link.style.cssText = 'color:#f0b557';
  bar.append(words, link);
  document.body.prepend(bar);
}

showBar().catch(() => undefined);
