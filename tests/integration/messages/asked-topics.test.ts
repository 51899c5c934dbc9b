import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { beforeAll, describe, expect, it } from 'vitest';
import { AnsweringRoom } from '../../unit/channels/answering';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

const HOUR = 3_600_000;

describe('what is told only where somebody asks for it', () => {
  let product: Within;
  const room = new AnsweringRoom();
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const idOf = async (path: string, body: object) =>
    ((await api('POST', path, body)).body as { id: number }).id;
  const heard = (name: string) =>
    room.asked
      .filter(({ url }) => url === `/${name}`)
      .map(({ body }) => (JSON.parse(body) as { text: string }).text);
  let kiosk: number;

  beforeAll(async () => {
    await room.start();
    const connect = (name: string) =>
      idOf('/channels', { kind: 'webhook', name, settings: { address: `${room.base}/${name}` } });
    // Each by a channel of its own: many in one would be folded together.
    const [usual, asked, plans] = [await connect('usual'), await connect('asked'), await connect('plans')];
    const [route] = (await api('GET', '/routes')).body as { id: number }[];
    await api('PATCH', `/routes/${route!.id}`, { steps: [{ after: 0, channels: [usual] }] });
    const tells = (topics: string[], channel: number) =>
      api('POST', '/routes', { name: topics.join(), topics, steps: [{ after: 0, channels: [channel] }] });
    await tells(['slow', 'incident'], asked);
    await tells(['maintenance'], plans);
    // About other watches: it hears of none of this.
    await api('POST', '/routes', {
      name: 'Elsewhere',
      topics: ['maintenance', 'incident'],
      watches: { kinds: ['ping'] },
      steps: [{ after: 0, channels: [await connect('elsewhere')] }],
    });
    const schedule = { type: 'period', everySeconds: 86_400 };
    kiosk = await idOf('/watches', { kind: 'checkin', name: 'Kiosk', schedule });
    return () => room.stop();
  });

  it('maintenance: that it is planned, begins and ends, each once', async () => {
    const now = Date.now();
    const iso = (at: number) => new Date(at).toISOString();
    const window = { title: 'New card readers', watchIds: [kiosk] };
    await api('POST', '/windows', { ...window, from: iso(now + HOUR), until: iso(now + 2 * HOUR) });
    await until(() => heard('plans').length === 1, 'planned');
    expect(heard('plans')[0]).toMatch(
      /^Maintenance is planned: New card readers\nFrom .* to .*, for Kiosk\./,
    );
    const short = { ...window, title: 'A short one', from: iso(now - 1000), until: iso(Date.now() + 3000) };
    await api('POST', '/windows', short);
    await until(
      () => heard('plans').some((text) => text.startsWith('Maintenance begins: A short one')),
      'begins',
    );
    await until(
      () => heard('plans').some((text) => text.startsWith('Maintenance is over: A short one')),
      'over',
    );
    expect(heard('plans')).toHaveLength(3);
    expect(heard('elsewhere')).toEqual([]);
    // What is past when it is written down is told to nobody.
    await api('POST', '/windows', { ...window, from: iso(now - 2 * HOUR), until: iso(now - HOUR) });
  });

  it('an incident: what the public is told, with its stage', async () => {
    const pageId = await idOf('/pages', { title: 'Ferries', slug: 'ferries', sections: [] });
    const incident = await idOf(`/pages/${pageId}/incidents`, {
      title: 'Booking is slow',
      stage: 'looking',
      body: 'We are looking into it.\n@everyone',
    });
    await until(() => heard('asked').some((text) => text.includes('tells the public')), 'told');
    const text = heard('asked').at(-1)!;
    expect(text).toContain(
      'Ferries tells the public: Booking is slow\nLooking into it.\nWe are looking into it.',
    );
    expect(text).not.toContain('@everyone');
    await api('POST', `/incidents/${incident}/updates`, { stage: 'over', body: 'All is well.' });
    await until(() => heard('asked').at(-1)!.includes('Over.\nAll is well.'), 'its end is told');
    expect(heard('elsewhere')).toEqual([]);
  });

  it('slowness: with how long it took, and its limit', async () => {
    const slow = createServer((_, response) => setTimeout(() => response.end('The boats sail'), 120));
    await new Promise<void>((resolve) => slow.listen(0, '127.0.0.1', resolve));
    const address = `http://127.0.0.1:${(slow.address() as AddressInfo).port}/`;
    const watch = { kind: 'web', name: 'Booking site', settings: { address }, slowAfterMs: 50, slowLooks: 1 };
    await api('POST', '/watches', watch);
    await until(() => heard('asked').some((text) => text.startsWith('Booking site is slow')), 'told');
    expect(heard('asked').at(-1)).toMatch(/It answered after \d+ ms, over its limit of 50 ms/);
    slow.closeAllConnections();
    slow.close();
  });

  it('says nothing of them where nobody asked', () => {
    expect(heard('usual')).toEqual([]);
  });
});
