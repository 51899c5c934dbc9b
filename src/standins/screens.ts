import type { ChatRoom } from './room';
import type { StandIn } from './stand-in';

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

function page(title: string, body: string, refresh = ''): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
${refresh}<title>${title}</title><style>
:root{color-scheme:light dark}body{font:16px/1.5 system-ui,sans-serif;max-width:52rem;margin:2rem auto;padding:0 1rem}
table{border-collapse:collapse;width:100%}td,th{border-top:1px solid #8886;padding:.5rem .6rem;text-align:left;vertical-align:top}
button{font:inherit;padding:.2rem .6rem;margin:.1rem}button[aria-pressed=true]{font-weight:700;outline:2px solid currentColor}
form{display:inline}pre{white-space:pre-wrap;font:inherit;margin:0}li{margin:.8rem 0}time{opacity:.7}
</style><body>${body}</body></html>`;
}

/** The screen on which each stand-in can be broken and mended. */
export function harbourScreen(standIns: readonly StandIn[]): string {
  const rows = standIns.map((s) => {
    const buttons = s.modes
      .map(
        (mode) =>
          `<form method="post" action="/stand-ins/${s.id}?mode=${encodeURIComponent(mode)}"><button aria-pressed="${mode === s.mode}">${mode}</button></form>`,
      )
      .join('');
    return `<tr><th scope="row">${escape(s.title)}</th><td>${escape(s.address)}</td><td>${buttons}</td></tr>`;
  });
  return page(
    'The practice harbour',
    `<h1>The practice harbour</h1><p>Made-up sites, kiosks and jobs. Break one, and watch Calm Lantern notice.
<a href="/room">The crew room</a> shows what arrives in the chat.</p><table>${rows.join('')}</table>`,
  );
}

/** The chat room as a page; it reloads itself. */
export function roomScreen(room: ChatRoom): string {
  const items = [...room.messages]
    .reverse()
    .map((m) => `<li><time>${escape(m.at)}</time><pre>${escape(m.text)}</pre></li>`)
    .join('');
  return page(
    'Crew room',
    `<h1>Crew room</h1><p><a href="/">The practice harbour</a></p>${items ? `<ol reversed>${items}</ol>` : '<p>Nothing has arrived yet.</p>'}`,
    '<meta http-equiv="refresh" content="3">',
  );
}
