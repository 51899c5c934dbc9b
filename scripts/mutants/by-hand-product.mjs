// Long. A list: one change after the other.
/**
 * Changes that are noticed by tests which start the product, so that it is built anew for each. What is changed is
 * promised to whoever stands outside: a visitor, a job, a program, a second machine. `NO_PAGES` where neither pages nor
 * API have to be built with it.
 */
const wired = (...names) => names.map((name) => `tests/integration/${name}.test.ts`);

const NO_PAGES = false;
const SITE = 'src/server/site/public-site.ts';
const PASSWORDS = 'src/server/site/access.ts';
const PREFLIGHT = 'src/store/db/preflight.ts';
const MAIL = 'src/server/checkins/mail-endpoint.ts';

export const PRODUCT_CHANGES = [
  // Pages that are not for everyone
  [
    'a page with a password is open to everybody',
    SITE,
    'return isOpened(page, request.headers.cookie, this.options.now())',
    'return true',
    wired('front/public-site'),
  ],
  [
    'what opens a page is not signed',
    PASSWORDS,
    'return got.length === expected.length && timingSafeEqual(got, expected);',
    'return true;',
    wired('front/public-site'),
  ],
  [
    'an old password still opens a page',
    PASSWORDS,
    "createHmac('sha256', passwordHash ?? '')",
    "createHmac('sha256', '')",
    wired('front/public-site'),
  ],
  [
    'a thousand passwords of a page are tried',
    PASSWORDS,
    'if (waitMs > 0) return { waitMs };',
    '',
    wired('front/public-site'),
  ],
  [
    'a page for those who are signed in is open to everybody',
    SITE,
    "return who?.rights.has('look')\n          ? null",
    'return who !== undefined\n          ? null',
    wired('front/public-site'),
  ],
  [
    'figures of a page need no right',
    SITE,
    "if (!who?.rights.has('look')) {\n        response.writeHead(401",
    'if (who === undefined) {\n        response.writeHead(401',
    wired('front/public-site'),
  ],
  [
    'a picture that was taken off a page is found by it',
    SITE,
    "if (!picturesOf(entry.page).includes(asked.name)) return shut({ door: 'gone' }, 404);",
    '',
    wired('front/pictures'),
  ],
  [
    'whoever asks for what there is no end of is not slowed',
    SITE,
    'if (!fresh && this.slowing.isSlowed(asked, client, this.options.monotonic())) {',
    'if (client === null) {',
    wired('front/public-site'),
  ],
  [
    'what was drawn for some is kept on the way for all',
    'src/server/site/sending.ts',
    "'cache-control': everyone ? `public, max-age=${KEPT_S}` : 'private, no-cache',",
    "'cache-control': `public, max-age=${KEPT_S}`,",
    wired('front/public-site'),
  ],
  [
    'pages run what others bring along',
    'src/server/site/sending.ts',
    "if (asked.what === 'sheet') headers['content-security-policy'] = POLICY;",
    '',
    wired('front/public-site', 'front/access'),
  ],

  // Requests that are sent again
  [
    'an answer with a secret lies open on the disk',
    'src/api/idempotency.ts',
    'const sealed = vault.seal(JSON.stringify(answer));',
    'const sealed = JSON.stringify(answer);',
    wired('api/api-contract'),
  ],
  [
    'an id is whatever it comes to',
    'src/api/dispatch.ts',
    'if (!ID.test(text)) throw nothingAt(path);',
    '',
    wired('api/api-contract'),
  ],

  // Accounts
  [
    'a new password leaves other sessions open',
    'src/cases/access/account.ts',
    'if (passwordHash) await endOtherSessions(trx, account.id, sessionId);',
    '',
    wired('front/access'),
  ],
  [
    'a password is changed without the present one',
    'src/cases/access/account.ts',
    'if (!kept || !(await isPassword(valid.current, kept.passwordHash))) {',
    'if (!kept) {',
    wired('front/access'),
  ],
  [
    'a token that was revoked comes back with the next start',
    'src/store/access/tokens.ts',
    ".onConflict('token_hash')\n    .ignore();",
    ".onConflict('token_hash')\n    .merge({ revoked_at: null } as never);",
    wired('front/access'),
    NO_PAGES,
  ],

  // Data folders
  [
    'two front doors share a data folder',
    PREFLIGHT,
    "lock.exec('BEGIN EXCLUSIVE');",
    '',
    wired('engine/silence'),
    NO_PAGES,
  ],
  [
    'a database of a newer version is opened',
    PREFLIGHT,
    'if (newer !== undefined) {',
    'if (newer === null) {',
    wired('engine/silence'),
    NO_PAGES,
  ],
  [
    'a database of another program is filled',
    PREFLIGHT,
    'if (tables.length === 0) return;',
    'return;',
    wired('engine/silence'),
    NO_PAGES,
  ],

  // Check-ins
  [
    'output is kept with what looks like a secret',
    'src/server/checkins/checkin.ts',
    'resolve(text === null ? null : blankSecrets(text));',
    'resolve(text);',
    wired('checkins/checkin-address'),
  ],
  [
    'of long output the end is lost',
    'src/core/reports/output.ts',
    'while (this.tailBytes - this.tail[0]!.length >= TAIL_BYTES) this.tailBytes -= this.tail.shift()!.length;',
    'if (this.tailBytes > TAIL_BYTES) this.tailBytes -= this.tail.pop()!.length;',
    wired('checkins/checkin-address'),
    NO_PAGES,
  ],
  [
    'a preview of a link counts as a report',
    'src/server/checkins/checkin.ts',
    "if (door.methods === 'post' && request.method !== 'POST') {",
    'if (door.methods === null) {',
    wired('checkins/checkin-address'),
  ],
  [
    'a body without end is read without end',
    'src/server/checkins/checkin.ts',
    'if (kept.size > MOST_READ_BYTES) request.destroy();',
    '',
    wired('checkins/checkin-address'),
  ],

  // Reports by mail
  [
    'mail is passed on for others',
    MAIL,
    'if (address.slice(at + 1).toLowerCase() !== settings.domain.toLowerCase()) {',
    'if (at < 0) {',
    wired('checkins/mail-door'),
  ],
  [
    'a report comes by mail from whoever likes',
    MAIL,
    'if (!maySend(door.mail, sender)) {',
    'if (sender === null) {',
    wired('checkins/mail-door'),
  ],
  ['a mail may be of any size', MAIL, 'size: largestKb * 1000,', '', wired('checkins/mail-door')],
  [
    'one client holds all connections for mail',
    MAIL,
    "callback(open > MOST_PER_CLIENT ? refusal(421, 'Too many connections from there.') : null);",
    'callback(null);',
    wired('checkins/mail-door'),
  ],
  [
    'a mail goes to as many check-ins as it names',
    MAIL,
    "if (others.length >= MOST_RECIPIENTS) throw refusal(452, '4.5.3 Too many recipients at once.');",
    '',
    wired('checkins/mail-door'),
  ],

  // Looking out
  [
    'a query may write',
    'src/probes/kinds/database.ts',
    '{ readOnly: true },',
    '{ readOnly: false },',
    wired('neighbours/real-servers'),
    NO_PAGES,
  ],
  [
    'sessions of before go on where a password was forgotten',
    'src/cases/access/new-password.ts',
    'await endOtherSessions(trx, id, null);',
    '',
    wired('front/new-password'),
  ],
  [
    'an engine that was begun early goes on by itself where the front door is gone',
    'src/engine/main.ts',
    'if (!process.connected) end();',
    'if (!process.connected) return;',
    wired('engine/silence'),
  ],
  [
    'a broker is not told that nobody keeps it up to date',
    'src/channels/kinds/mqtt.ts',
    '...(this.around && { will: { topic: this.alive, payload: Buffer.from(GONE), ...KEPT } }),',
    '',
    wired('messages/mirror'),
    NO_PAGES,
  ],
  [
    'a parameter of a query is called what every object has something by',
    'src/api/query.ts',
    'const field = ownEntry(fields, name);',
    'const field = fields[name];',
    wired('api/strange-input'),
  ],
  [
    'whoever takes a trouble by a link is noted by what was not checked yet',
    'src/cases/messages/taking.ts',
    'name: asked.by, rights',
    'name: (body as { by: string }).by, rights',
    wired('messages/take-link'),
  ],
].map(([what, file, from, to, tests, withPages]) => ({
  ...{ what, file, from, to, tests },
  withPages: withPages ?? !/^src\/(server|engine|site)\//.test(file),
}));
