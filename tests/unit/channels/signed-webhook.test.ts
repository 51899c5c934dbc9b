import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { HTTP, type CloudEvent } from 'cloudevents';
import { Webhook } from 'standardwebhooks';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { signedWebhook } from '@/channels/kinds/signed-webhook';
import { outgoing } from './outgoing';

const SECRET = `whsec_${Buffer.from('a secret of thirty-two bytes, ok').toString('base64')}`;

describe('a webhook for programs', () => {
  let server: Server;
  let base: string;
  let status: number;
  let asked: { headers: Record<string, string>; body: string }[];

  beforeEach(async () => {
    [status, asked] = [204, []];
    server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        asked.push({
          headers: request.headers as Record<string, string>,
          body: Buffer.concat(chunks).toString(),
        });
        response.writeHead(status).end();
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
