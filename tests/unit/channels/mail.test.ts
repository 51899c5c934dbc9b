import { createHash, generateKeyPairSync, verify } from 'node:crypto';
import { SMTPServer, type SMTPServerOptions } from 'smtp-server';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { mail, mailOf, type MailSettings } from '@/channels/kinds/mail';
import type { Answer, Outgoing } from '@/channels/frame/kind';
import { NO_HOUSE, type House } from '@/channels/frame/house';
import { startMailServer, type CameByMail } from './mailbox';
import { outgoing } from './outgoing';

const SETTINGS: MailSettings = {
  host: '127.0.0.1',
  port: 0,
  security: 'none',
  user: '',
  password: '',
  from: 'Calm Lantern <lantern@ternferry.test>',
  to: 'office@ternferry.test',
  authority: '',
};

describe('a mailbox', () => {
  let server: SMTPServer;
  let came: CameByMail[];

  afterEach(async () => new Promise<void>((resolve) => server.close(() => resolve())));

  async function start(options: Partial<SMTPServerOptions> = {}): Promise<number> {
    came = [];
    const started = await startMailServer(came, options);
    server = started.server;
    return started.port;
  }

  const send = (
    port: number,
    message: Outgoing = outgoing(),
    rest: Partial<MailSettings> = {},
  ): Promise<Answer> => mail.send({ ...SETTINGS, port, ...rest }, message, new AbortController().signal);

  describe('whose readers are asked first', () => {
    const LINK = 'https://watch.ternferry.test/confirm/abc';
    let given: string[];
    let asked: string[];
    let forgotten: string[];
    /** Asks once, as the house does. */
    const house = (): House => ({
      ...NO_HOUSE,
      consent: {
        isGiven: (address) => Promise.resolve(given.includes(address)),
        ask: (address) => Promise.resolve(asked.includes(address) ? null : (asked.push(address), LINK)),
        forget: (address) => Promise.resolve(void forgotten.push(address)),
      },
    });
    const ask = (port: number, to: string, message = outgoing()) =>
      mail.send({ ...SETTINGS, port, to }, message, new AbortController().signal, house());

    beforeEach(() => {
      [given, asked, forgotten] = [[], [], []];
    });

    it('is sent the question, once, and nothing else', async () => {
      const port = await start();
      const answer = {
        ok: false,
        retry: true,
        said: 'Not sent yet: office@ternferry.test was asked by mail, and is sent nothing else before saying yes',
      };
      expect(await ask(port, 'The office <office@ternferry.test>')).toEqual(answer);
      expect(await ask(port, 'The office <office@ternferry.test>')).toEqual(answer);
      const [{ mail: question, to }] = came as [(typeof came)[0]];
      expect(came).toHaveLength(1);
      expect(to).toEqual(['office@ternferry.test']);
      expect(question.subject).toBe('Do you want messages from Calm Lantern?');
      expect(question.text).toContain(LINK);
      expect(question.text).not.toContain('Booking site');
      expect(question.headers.get('auto-submitted')).toBe('auto-generated');
    });

    it('goes to those who said yes, and says who did not yet', async () => {
      given = ['ines@ternferry.test'];
      const port = await start();
      const { ok, said } = await ask(port, 'ines@ternferry.test, office@ternferry.test');
      expect(ok).toBe(true);
      expect(said).toMatch(
        /; office@ternferry\.test was asked by mail, and is sent nothing else before saying yes$/,
      );
      expect(came.map(({ to, mail: one }) => [to, one.subject])).toEqual([
        [['office@ternferry.test'], 'Do you want messages from Calm Lantern?'],
        [['ines@ternferry.test'], 'Booking site is down'],
      ]);
      expect(JSON.stringify(came[1]!.mail.to)).not.toContain('office@');
    });

    it('is asked in the language of the channel', async () => {
      const port = await start();
      await ask(port, 'office@ternferry.test', outgoing({ language: 'fr' }));
      expect(came[0]!.mail.subject).toBe('Voulez-vous des messages de Calm Lantern ?');
    });

    it('may be asked again at once where the question did not go', async () => {
      const port = await start({
        onRcptTo: (_, __, done) => done(Object.assign(new Error('no such mailbox'), { responseCode: 550 })),
      });
      expect(await ask(port, 'nobody@ternferry.test')).toEqual({
        ok: false,
        retry: false,
        said: expect.stringContaining('no such mailbox') as string,
      });
      expect(forgotten).toEqual(['nobody@ternferry.test']);
    });
  });

  it('gets mails that are signed, where a key is given', async () => {
    const { privateKey, publicKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
    const dkimKey = privateKey.export({ type: 'pkcs8', format: 'pem' }).toString();
    let raw = '';
    const port = await start({
      onData: (stream, _, done) => {
        stream.on('data', (chunk: Buffer) => (raw += chunk.toString()));
        stream.on('end', () => done());
      },
    });
    await send(port, outgoing(), { dkimSelector: 'lantern', dkimKey });
    const [head, body] = [raw.slice(0, raw.indexOf('\r\n\r\n') + 2), raw.slice(raw.indexOf('\r\n\r\n') + 4)];
    // Relaxed canonicalization of headers and body (RFC 6376, 3.4.2 and 3.4.4).
    const headers = head
      .replace(/\r\n[ \t]+/g, ' ')
      .trimEnd()
      .split('\r\n');
    const relaxed = (line: string) =>
      line
        .replace(/^([^:]+?)\s*:\s*/, (_, name: string) => `${name.toLowerCase()}:`)
        .replace(/[ \t]+/g, ' ')
        .trimEnd();
    const own = headers.find((line) => /^dkim-signature:/i.test(line))!;
    const tag = (name: string) => new RegExp(`[;:] ?${name}=([^;]+)`).exec(own)![1]!.replace(/\s+/g, '');
    expect([tag('d'), tag('s'), tag('a')]).toEqual(['ternferry.test', 'lantern', 'rsa-sha256']);
    const lines = body
      .replace(/[ \t]+\r\n/g, '\r\n')
      .replace(/[ \t]+/g, ' ')
      .replace(/(\r\n)+$/, '\r\n');
    expect(tag('bh')).toBe(createHash('sha256').update(lines).digest('base64'));
    const signed = [
      ...tag('h')
        .split(':')
        .map((name) =>
          relaxed(headers.find((line) => line.toLowerCase().startsWith(`${name.toLowerCase()}:`))!),
        ),
      relaxed(own).replace(/b=[^;=]+=*$/, 'b='),
    ].join('\r\n');
    expect(verify('sha256', Buffer.from(signed), publicKey, Buffer.from(tag('b'), 'base64'))).toBe(true);
  });

  it.each([
    [{ dkimSelector: 'lantern', dkimKey: 'no key' }, 'Expected an RSA private key in PEM'],
    [{ dkimKey: 'x' }, 'Expected the selector of the key'],
    [{ dkimSelector: 'a b', dkimKey: '' }, 'Expected the selector of the key'],
  ])('is refused a key that is none: %j', async (change, message) => {
    server = new SMTPServer();
    const refused = mail.schema.validate({ ...SETTINGS, port: 25, ...change }, { abortEarly: false });
    await expect(refused).rejects.toMatchObject({
      errors: expect.arrayContaining([expect.stringContaining(message)]) as string[],
    });
  });

  it('gets what is said, as text and as HTML', async () => {
    const port = await start();
    expect(await send(port)).toMatchObject({ ok: true, retry: false, said: expect.stringMatching(/^250 /) });
    const [{ mail: got, to }] = came as [(typeof came)[0]];
    expect(to).toEqual(['office@ternferry.test']);
    expect(got.subject).toBe('Booking site is down');
    expect(got.from!.text).toBe('"Calm Lantern" <lantern@ternferry.test>');
    expect(got.text).toContain('Nothing listens on port 443.');
    expect(got.text).toContain('https://watch.ternferry.test/watches/3');
    expect(got.html).toContain('<a href="https://watch.ternferry.test/watches/3">');
    expect(got.headers.get('auto-submitted')).toBe('auto-generated');
    expect(got.date).toEqual(new Date('2026-11-26T08:00:00Z'));
  });

  it('gets all about one trouble in one thread, and another trouble in another', () => {
    const of = (rest: Partial<Outgoing>) => mailOf(SETTINGS, outgoing(rest));
    const [first, second, other] = [of({}), of({ id: '2.8' }), of({ id: '3.9', conversation: 'w4.5' })];
    expect(first.references).toEqual(['<conversation.w3.1795680000000@ternferry.test>']);
    expect(first).toMatchObject({
      inReplyTo: '<conversation.w3.1795680000000@ternferry.test>',
      messageId: '<message.1795680000000.7@ternferry.test>',
    });
    expect(second.references).toEqual(first.references);
    expect(second.messageId).not.toBe(first.messageId);
    expect(other.references).not.toEqual(first.references);
    expect(of({ conversation: null })).not.toHaveProperty('references');
    // What likely has the same cause is tied to what was told first, and goes on by itself.
    expect(of({ conversation: 'w4.7', follows: 'w3.5' })).toMatchObject({
      references: ['<conversation.w3.5@ternferry.test>', '<conversation.w4.7@ternferry.test>'],
      inReplyTo: '<conversation.w4.7@ternferry.test>',
    });
    expect(of({ conversation: null, follows: 'w3.5' }).inReplyTo).toBe('<conversation.w3.5@ternferry.test>');
    // The same at every try.
    expect(of({}).messageId).toBe(first.messageId);
  });

  it('can be forged by no name: neither a header nor a tag', async () => {
    const port = await start();
    const title = 'Kiosk\r\nBcc: all@ternferry.test is down';
    await send(
      port,
      outgoing({ title, lines: ['<img src=x onerror=alert(1)> & "more"'], conversation: 'own a\r\nX: y' }),
    );
    const [{ mail: got, to }] = came as [(typeof came)[0]];
    expect(to).toEqual(['office@ternferry.test']);
    expect(got.bcc).toBeUndefined();
    expect(got.headers.has('x')).toBe(false);
    expect(got.subject).toBe('Kiosk Bcc: all@ternferry.test is down');
    expect(got.html).toContain('&lt;img src=x onerror=alert(1)&gt; &amp; &quot;more&quot;');
  });

  it('may be several, of which one is not taken', async () => {
    const port = await start({
      onRcptTo: ({ address }, _, done) =>
        done(
          address.startsWith('gone')
            ? Object.assign(new Error('no such mailbox'), { responseCode: 550 })
            : null,
        ),
    });
    const answer = await send(port, outgoing(), {
      to: 'office@ternferry.test; gone@ternferry.test,\nines@ternferry.test',
    });
    expect(answer).toMatchObject({
      ok: true,
      said: expect.stringContaining('not taken for gone@ternferry.test'),
    });
    expect(came[0]!.to).toEqual(['office@ternferry.test', 'ines@ternferry.test']);
    expect(await send(port, outgoing(), { to: 'gone@ternferry.test' })).toMatchObject({
      ok: false,
      retry: false,
      said: expect.stringMatching(/^The mail server refused an address: .*no such mailbox/),
    });
  });

  it.each([
    [451, true],
    [552, false],
  ])('that answers %i to a mail is tried again: %s', async (responseCode, retry) => {
    const port = await start({
      onData: (stream, _, done) => {
        stream.resume();
        stream.on('end', () => done(Object.assign(new Error('the fog is thick'), { responseCode })));
      },
    });
    expect(await send(port)).toMatchObject({
      ok: false,
      retry,
      said: expect.stringContaining('the fog is thick'),
    });
  });

  it('that refuses the sign-in is waited for, and the password is not repeated', async () => {
    const port = await start({
      authOptional: false,
      allowInsecureAuth: true,
      onAuth: ({ password }, _, done) => done(new Error(`no such password: ${password}`)),
    });
    const answer = await send(port, outgoing(), { user: 'office', password: 'the boats sail' });
    expect(answer).toMatchObject({ ok: false, retry: true });
    expect(answer.said).toMatch(/^The mail server refused the sign-in: /);
    expect(answer.said).not.toContain('the boats sail');
  });

  it('without encryption is not sent to where encryption is asked for', async () => {
    const port = await start();
    const answer = await send(port, outgoing(), { security: 'starttls' });
    expect(answer).toMatchObject({ ok: false, retry: true });
    expect(came).toEqual([]);
  });

  it('that is away, or is no mail server, is told as that', async () => {
    const port = await start();
    await new Promise<void>((resolve) => server.close(() => resolve()));
    expect(await send(port)).toMatchObject({
      ok: false,
      retry: true,
      said: expect.stringMatching(/^No connection to the mail server: .*ECONNREFUSED/),
    });
  });

  it('is called off', async () => {
    const port = await start({ onConnect: () => undefined });
    const abort = new AbortController();
    const sending = mail.send({ ...SETTINGS, port }, outgoing(), abort.signal);
    setTimeout(() => abort.abort(), 50);
    expect(await sending).toMatchObject({ ok: false, retry: true });
  });
});

describe('the settings of a mailbox', () => {
  const problem = async (change: object) => {
    const whole = {
      host: 'mail.ternferry.test',
      from: 'lantern@ternferry.test',
      to: 'office@ternferry.test',
      ...change,
    };
    return mail.schema.validate(whole).then(
      () => null,
      (error: Error) => error.message,
    );
  };

  it('are refused with what was expected', async () => {
    expect(await problem({})).toBeNull();
    expect(await problem({ host: '' })).toBe('Expected the name of the mail server, got nothing.');
    expect(await problem({ from: 'nobody' })).toBe(
      'Expected one address such as lantern@ternferry.test, got "nobody".',
    );
    expect(await problem({ from: 'a@b.test\r\nBcc: c@d.test' })).toContain('Expected one address');
    expect(await problem({ to: 'office@ternferry.test, nobody' })).toContain('Expected up to 20 addresses');
    expect(await problem({ to: Array(21).fill('a@b.test').join(',') })).toContain(
      'Expected up to 20 addresses',
    );
    expect(await problem({ port: 70_000 })).toBe('Expected a port from 1 to 65535.');
    expect(await problem({ security: 'some' })).toBe('Expected starttls, tls or none.');
    expect(await problem({ security: 'none', user: 'office', password: 'x' })).toContain(
      'readable on its way',
    );
  });

  it('are shown without what is secret', () => {
    expect(mail.shown({ ...SETTINGS, host: 'mail.ternferry.test', password: 'hush' })).toBe(
      'office@ternferry.test, by mail.ternferry.test',
    );
  });
});
