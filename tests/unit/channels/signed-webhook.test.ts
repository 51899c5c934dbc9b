import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { HTTP, type CloudEvent } from 'cloudevents';
import { Webhook } from 'standardwebhooks';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { signedWebhook } from '@/channels/kinds/signed-webhook';
import { BODY_VALUES } from '@/channels/frame/template-body';
import { outgoing } from './outgoing';

const SECRET = `whsec_${Buffer.from('a secret of thirty-two bytes, ok').toString('base64')}`;

describe('a webhook for programs', () => {
  let server: Server;
  let base: string;
  let status: number;
  let answered: string;
  let asked: { method: string; headers: Record<string, string>; body: string }[];

  beforeEach(async () => {
    [status, answered, asked] = [204, '', []];
    server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        asked.push({
          method: request.method!,
          headers: request.headers as Record<string, string>,
          body: Buffer.concat(chunks).toString(),
        });
        response.writeHead(status).end(answered);
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterEach(() => new Promise((resolve) => server.close(resolve)));

  const send = (secret = SECRET, message = outgoing()) =>
    signedWebhook.send({ address: `${base}/events`, secret }, message, new AbortController().signal);

  it('gets an event that the specification’s own library reads', async () => {
    expect(await send()).toEqual({ ok: true, retry: false, said: '204' });
    const event = HTTP.toEvent(asked[0]!) as CloudEvent<Record<string, unknown>>;
    expect(event.validate()).toBe(true);
    expect(event).toMatchObject({
      specversion: '1.0',
      id: '1795680000000.7',
      source: 'https://watch.ternferry.test/',
      type: 'lantern.down',
      subject: 'watches/3',
      time: '2026-11-26T08:00:00.000Z',
    });
    expect(event.data).toMatchObject({
      title: 'Booking site is down',
      conversation: 'w3.1795680000000',
      watch: { id: 3, name: 'Booking site' },
      event: { kind: 'down', cause: 'port.refused' },
    });
  });

  it('is about no watch where it is about several, and about a message from before there were events', async () => {
    await send(SECRET, outgoing({ watch: null, event: null, conversation: null }));
    expect(JSON.parse(asked[0]!.body)).toMatchObject({ type: 'lantern.message', data: { watch: null } });
    expect(JSON.parse(asked[0]!.body)).not.toHaveProperty('subject');
  });

  it('is signed so that the specification’s own library takes it, and nothing that was changed', async () => {
    await send();
    const [{ headers, body }] = asked as [(typeof asked)[0]];
    const check = new Webhook(SECRET);
    expect(check.verify(body, headers)).toMatchObject({ type: 'lantern.down' });
    expect(() => check.verify(body.replace('down', 'fine'), headers)).toThrow();
    await send(SECRET.slice('whsec_'.length));
    expect(check.verify(asked[1]!.body, asked[1]!.headers)).toBeTruthy();
    // The same id at every try tells that it is the same.
    expect(asked[1]!.headers['webhook-id']).toBe(headers['webhook-id']);
    await send('');
    expect(asked[2]!.headers).not.toHaveProperty('webhook-signature');
  });

  it('that is gone says so, and is sent nothing any more', async () => {
    status = 410;
    expect(await send()).toEqual({
      ok: false,
      retry: false,
      gone: true,
      said: '410 (gone: nothing is sent there any more)',
    });
    status = 503;
    expect(await send()).toEqual({ ok: false, retry: true, said: '503' });
  });

  describe('with a body of its own', () => {
    const own = (rest: object, message = outgoing()) =>
      signedWebhook.send(
        { address: `${base}/events`, secret: SECRET, ...rest },
        message,
        new AbortController().signal,
      );
    const problem = (rest: object) =>
      signedWebhook.schema.validate({ address: `${base}/`, ...rest }).then(
        () => null,
        (error: Error) => error.message,
      );

    it('posts what the template makes of the message, signed as well', async () => {
      const template = '{"summary": {{ title | json }}, "text": {{ text | json }}, "on": {{ watch.id }}}';
      const message = outgoing({ title: 'A "quoted" name', lines: ['one', 'two'] });
      expect(await own({ template, method: 'PUT', headers: 'X-Key: the-boats-sail' }, message)).toMatchObject(
        { ok: true },
      );
      const [{ method, headers, body }] = asked as [(typeof asked)[0]];
      expect(method).toBe('PUT');
      expect(JSON.parse(body)).toEqual({ summary: 'A "quoted" name', text: 'one\ntwo', on: 3 });
      expect(headers).toMatchObject({
        'content-type': 'application/json; charset=utf-8',
        'x-key': 'the-boats-sail',
        'webhook-id': message.id,
      });
      expect(headers).not.toHaveProperty('lantern-drill');
      expect(new Webhook(SECRET).verify(body, headers)).toBeTruthy();
    });

    it('may be any text, of any kind that its headers say', async () => {
      await own({ template: '{{ happening }} since {{ event.began }}; {{ at }}; {{ take }}' });
      expect(asked[0]!.body).toBe(`down since ${outgoing().at}; 2026-11-26T08:00:00.000Z; `);
      expect(asked[0]!.headers['content-type']).toBe('text/plain; charset=utf-8');
      await own({
        template: 'title={{ title | url_encode }}',
        headers: 'Content-Type: application/x-www-form-urlencoded',
      });
      expect(asked[1]!.headers['content-type']).toBe('application/x-www-form-urlencoded');
    });

    it('says in its head that it is a drill', async () => {
      await own({ template: '{{ watch.name }}' }, outgoing({ drill: true }));
      expect(asked[0]!.headers['lantern-drill']).toBe('true');
    });

    it('may name all that is said of, also where it is about no watch', async () => {
      const template = Object.keys(BODY_VALUES)
        .map((name) => `{{ ${name} }}`)
        .join('|');
      expect(await own({ template }, outgoing({ watch: null, event: null, take: null }))).toMatchObject({
        ok: true,
      });
      expect(asked[0]!.body).toContain('|message|');
    });

    it('is given up, with why, where it cannot be filled in, and nothing is posted', async () => {
      expect(await own({ template: '{{ nobody }}' })).toEqual({
        ok: false,
        retry: false,
        said: expect.stringMatching(/^Its body cannot be filled in: undefined variable: nobody/) as string,
      });
      expect(asked).toEqual([]);
    });

    it('is refused where it can never be filled in, and so are headers that are none or not ours to set', async () => {
      expect(await problem({ template: '{% if title %}' })).toMatch(
        /^Expected a body that can be filled in: .*not closed/,
      );
      expect(await problem({ template: 'x'.repeat(4001) })).toMatch(/at most 4000 characters, got 4001/);
      expect(await problem({ method: 'DELETE' })).toBe('Expected one of POST, PUT, PATCH.');
      expect(await problem({ headers: 'nonsense' })).toMatch(/^Expected one “Name: value” a line/);
      for (const name of ['Host', 'content-length', 'Transfer-Encoding', 'connection'])
        expect(await problem({ headers: `X-Key: 1\n${name}: x` })).toMatch(/that header is set here/);
      expect(await problem({ template: '{{ title }}', method: 'PATCH', headers: 'X-Key: 1' })).toBeNull();
    });

    it('keeps its headers out of what the other side answers', async () => {
      [status, answered] = [500, 'no such key: the-boats-sail'];
      expect((await own({ template: 'x', headers: 'X-Key: the-boats-sail' })).said).not.toContain(
        'the-boats-sail',
      );
    });
  });

  it('takes a secret as the specification has it', async () => {
    const problem = (secret: string) =>
      signedWebhook.schema.validate({ address: `${base}/`, secret }).then(
        () => null,
        (error: Error) => error.message,
      );
    expect(await problem(SECRET)).toBeNull();
    expect(await problem('')).toBeNull();
    expect(await problem('short')).toContain('Expected a secret of 24 to 64 bytes');
    expect(signedWebhook.shown({ address: `${base}/events/of-a-secret`, secret: SECRET })).toBe(`${base}/…`);
  });
});
