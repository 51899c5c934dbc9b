import type { ChatRoom } from './room';
import type { StandIn } from './stand-in';

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** The product's own paper and ink; its typefaces stay with the product, so that a stand-in ships no fonts. */
const LOOKS = `
:root{color-scheme:light dark;--paper:light-dark(#f6f3eb,#131a25);--card:light-dark(#fffef9,#1a2430);
--ink:light-dark(#1b2632,#ece6d7);--muted:light-dark(#56606b,#a3aeb9);--rule:light-dark(#e2dccd,#2c3947);
--edge:light-dark(#8d8773,#6d7c8b);--button:light-dark(#1b2632,#f0b557);--button-ink:light-dark(#fffef9,#17202b);
--quiet:light-dark(#f3efe4,#212d3a)}
*{box-sizing:border-box}
body{font:1rem/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif;background:var(--paper);color:var(--ink);
max-width:64rem;margin:0 auto;padding:1.75rem 1.25rem 3rem}
h1{font:500 2rem/1.15 Newsreader,Georgia,serif;margin:0 0 .4rem}
p{color:var(--muted);margin:.2rem 0 1.2rem;max-width:44rem}a{color:inherit}
.sheet{background:var(--card);border:1px solid var(--rule);border-radius:.75rem;list-style:none;margin:0;padding:.3rem 1.1rem}
.sheet>li{border-top:1px solid var(--rule);padding:.65rem 0;display:grid;gap:.25rem 1rem;
grid-template-columns:minmax(0,15rem) minmax(0,1fr)}.sheet>li:first-child{border-top:0}
.sheet strong{font-weight:600}.sheet small{color:var(--muted);font-size:.875rem;overflow-wrap:anywhere;display:block}
form{display:inline}
button{font:inherit;font-size:.875rem;color:inherit;background:none;border:1px solid var(--edge);border-radius:.5rem;
padding:.2rem .65rem;margin:.12rem .1rem;cursor:pointer}button:hover{background:var(--quiet)}
button[aria-pressed=true]{background:var(--button);color:var(--button-ink);border-color:var(--button);font-weight:600}
:focus-visible{outline:2px solid var(--ink);outline-offset:2px}
pre{white-space:pre-wrap;font:inherit;margin:0}time{color:var(--muted);font-variant-numeric:tabular-nums}
@media(max-width:40rem){.sheet>li{grid-template-columns:minmax(0,1fr)}}
`;

function page(title: string, body: string, refresh = ''): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
${refresh}<title>${title}</title><style>${LOOKS}</style><body><main>${body}</main></body></html>`;
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
    return `<li><div><strong>${escape(s.title)}</strong><small>${escape(s.address)}</small></div><div>${buttons}</div></li>`;
  });
  return page(
    'The practice harbour',
    `<h1>The practice harbour</h1><p>Made-up sites, kiosks and jobs. Break one, and watch Calm Lantern notice.
<a href="/room">The crew room</a> shows what arrives in the chat.</p><ul class="sheet">${rows.join('')}</ul>`,
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
    `<h1>Crew room</h1><p><a href="/">The practice harbour</a></p>${items ? `<ol class="sheet" reversed>${items}</ol>` : '<p>Nothing has arrived yet.</p>'}`,
    '<meta http-equiv="refresh" content="3">',
  );
}
