import type { PracticeRoom } from './rooms/practice-room';
import { ServedRoom } from './rooms/served/served-room';
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
h2{font:500 1.35rem/1.2 Newsreader,Georgia,serif;margin:2rem 0 .2rem}
p{color:var(--muted);margin:.2rem 0 1.2rem;max-width:44rem}a{color:inherit}
.sheet{background:var(--card);border:1px solid var(--rule);border-radius:.75rem;list-style:none;margin:0;padding:.3rem 1.1rem}
.sheet>li{border-top:1px solid var(--rule);padding:.65rem 0;display:grid;gap:.25rem 1rem;
grid-template-columns:minmax(0,15rem) minmax(0,1fr)}.sheet>li:first-child{border-top:0}
.sheet strong{font-weight:600}.sheet small{color:var(--muted);font-size:.875rem;overflow-wrap:anywhere;display:block}
form{display:inline}.write{display:block;margin-bottom:1rem}.write small{display:block;color:var(--muted)}
label{font-size:.875rem;margin-right:.6rem}input{font:inherit;color:inherit;background:var(--card);
border:1px solid var(--edge);border-radius:.5rem;padding:.2rem .5rem;max-width:14rem}
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

/** A row with a button for each thing that can be made of it. */
function row(title: string, below: string, modes: readonly string[], now: string, address: string): string {
  const buttons = modes
    .map(
      (mode) =>
        `<form method="post" action="${address}mode=${encodeURIComponent(mode)}"><button aria-pressed="${mode === now}">${mode}</button></form>`,
    )
    .join('');
  return `<li><div><strong>${title}</strong><small>${below}</small></div><div>${buttons}</div></li>`;
}

/** The screen on which each stand-in can be broken and mended. */
export function harbourScreen(standIns: readonly StandIn[], rooms: readonly PracticeRoom[]): string {
  const rows = standIns.map((s) =>
    row(escape(s.title), escape(s.address), s.modes, s.mode, `/stand-ins/${s.id}?`),
  );
  const places = rooms.map((room) => {
    const title = `<a href="/rooms/${room.id}">${escape(room.title)}</a>`;
    const below = `${escape(room.speaks)}, ${room.messages.length === 1 ? '1 message' : `${room.messages.length} messages`}`;
    return row(title, below, room.modes, room.mode, `/rooms/${room.id}/mode?`);
  });
  return page(
    'The practice harbour',
    `<h1>The practice harbour</h1><p>Made-up sites, kiosks and jobs. Break one, and watch Calm Lantern notice.</p>
<ul class="sheet">${rows.join('')}</ul><h2>Where messages arrive</h2><p>A place for each format. Open one to read
what came.</p><ul class="sheet">${places.join('')}</ul>`,
  );
}

/** So much of what was written there is shown. */
const MOST_WRITTEN = 5;

/** Where somebody writes into a room that can be listened to. */
function writeForm({ id, written }: PracticeRoom): string {
  const last = written
    .slice(-MOST_WRITTEN)
    .map(({ by, text }) => `<small>${escape(by)} wrote: ${escape(text)}</small>`)
    .join('');
  return `<form class="write" method="post" action="/rooms/${id}/write"><label>Your name <input name="by" value="Ines" required maxlength="40"></label>
<label>What you write <input name="text" placeholder="mine" required maxlength="200"></label>
<button>Write it</button> <a href="/rooms/${id}">See what is new</a>${last}</form>`;
}

/** A place messages arrive at, as a page; it reloads itself where nothing is typed there. */
export function roomScreen(room: PracticeRoom): string {
  const items = [...room.messages]
    .reverse()
    .map(
      ({ at, text, answers }) =>
        `<li><time>${escape(at)}${answers === undefined ? '' : `<small>answers no. ${escape(answers)}</small>`}</time><pre>${escape(text)}</pre></li>`,
    )
    .join('');
  return page(
    escape(room.title),
    `<h1>${escape(room.title)}</h1><p>Speaks ${escape(room.speaks)}. <a href="/">The practice harbour</a></p>${room instanceof ServedRoom ? `<p>${escape(room.how)}</p>` : ''}${room.canBeListenedTo ? writeForm(room) : ''}${items ? `<ol class="sheet" reversed>${items}</ol>` : '<p>Nothing has arrived yet.</p>'}`,
    // Nothing that is typed is lost to it.
    room.canBeListenedTo ? '' : '<meta http-equiv="refresh" content="3">',
  );
}
