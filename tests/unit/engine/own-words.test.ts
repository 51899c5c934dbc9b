import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { SaidEvent } from '@/core/messages/said';
import { TemplateError } from '@/core/messages/sandbox';
import type { Dispatcher } from '@/engine/messages/dispatcher';
import { OwnWords } from '@/engine/messages/own-words';
import { fetchChannel, saveChannelChange } from '@/store/messages/channels';
import { fetchDeliveries, fetchDeliveryStory } from '@/store/messages/sent';
import { deleteText, fetchBrokenTexts, fetchText, saveNewText, saveTextChange } from '@/store/messages/texts';
import { tempStore, type TempStore } from '../../integration/helpers';
import { sayTo } from '../../integration/say-to';
import { answeringRoom } from '../channels/answering';
import { connectRoom, dispatcherOn } from './dispatcher-on';

const T0 = Date.parse('2026-11-26T08:00:00Z');
const BUILT_IN = 'Booking site is down';
const DOWN: SaidEvent = {
  kind: 'down',
  began: T0,
  noticed: T0,
  cause: 'port.refused',
  detail: { port: 443 },
};
const OVER: SaidEvent = { kind: 'recovered', began: T0 - 600_000, ended: T0 };

describe('words of one’s own on their way', () => {
  const rooms = answeringRoom();
  let store: TempStore;
  let dispatcher: Dispatcher;
  let crew: number;
  let office: number;

  beforeEach(async () => {
    store = await tempStore();
    const room = (name: string) => connectRoom(store, rooms.base, name, T0);
    [crew, office] = [await room('Crew'), await room('Office')];
    dispatcher = dispatcherOn(store, { now: () => T0 });
  });
  afterEach(async () => {
    await dispatcher.close(0);
    await store.close();
  });

  const write = (channelId: number | null, body: string, happening = 'down') =>
    saveNewText(store.db, { channelId, happening, title: '', body }, T0);
  const lastOf = (name: string): string[] => {
    const { body } = rooms.asked.filter(({ url }) => url === `/${name}`).at(-1)!;
    return (JSON.parse(body) as { text: string }).text.split('\n');
  };
  const isKept = async () => {
    const all = await fetchDeliveries(store.db, { limit: 100 });
    expect(all.every(({ state }) => state === 'delivered')).toBe(true);
    return all[0]!.id;
  };

  /** Says something to both rooms; answers the id of the last delivery once both were handed over and kept. */
  async function say(event: SaidEvent): Promise<number> {
    await sayTo(store.db, { event, name: 'Booking site', channels: [crew, office], at: T0 });
    await dispatcher.channelsChanged();
    return vi.waitFor(isKept, 5000);
  }
  const down = () => say(DOWN);
  const speak = async (id: number, language: 'de' | 'en') =>
    saveChannelChange(store.db, id, { ...(await fetchChannel(store.db, id))!, language });

  it('are said where they are meant for, and the built-in ones elsewhere', async () => {
    await write(crew, 'Go and look: {{ why }}');
    await down();
    expect(lastOf('Crew').slice(0, 2)).toEqual([
      BUILT_IN,
      'Go and look: The host is there, but nothing listens on port 443.',
    ]);
    expect(lastOf('Office')[1]).toBe('The host is there, but nothing listens on port 443.');
  });

  it('are those of the room before those for every room, and only of what they were written for', async () => {
    await write(null, 'For all');
    await write(crew, 'For the crew');
    await down();
    expect([lastOf('Crew')[1], lastOf('Office')[1]]).toEqual(['For the crew', 'For all']);
    await say(OVER);
    expect(lastOf('Crew')[1]).toMatch(/^It was down for 10 min/);
  });

  it('give way to the built-in ones where they cannot be filled in, which is noted until they can', async () => {
    const id = await write(crew, '{{ names.first.nobody.knows }}');
    await down();
    expect(lastOf('Crew')[1]).toBe('The host is there, but nothing listens on port 443.');
    expect(await fetchBrokenTexts(store.db)).toMatchObject([
      {
        id,
        happening: 'down',
        channel: 'Crew',
        trouble: expect.stringContaining('undefined variable') as string,
      },
    ]);
    await saveTextChange(store.db, id, { channelId: crew, happening: 'down', title: '', body: 'Mended' });
    expect(await fetchBrokenTexts(store.db)).toEqual([]);
    await down();
    expect(lastOf('Crew')[1]).toBe('Mended');
    expect((await fetchText(store.db, id))!.trouble).toBeNull();
  });

  it('are noted as whole again by the first message they can be filled in for', async () => {
    const id = await write(crew, '{% if cause == "port.refused" %}{{ nobody }}{% endif %}Well', 'down');
    await down();
    expect((await fetchText(store.db, id))!.trouble).not.toBeNull();
    await say({ kind: 'down', began: T0, noticed: T0, cause: 'host.silent', detail: { host: 'kiosk' } });
    expect(lastOf('Crew')[1]).toBe('Well');
    expect((await fetchText(store.db, id))!.trouble).toBeNull();
  });

  it('that took too long are left alone until they are changed: all else waits while they are filled in', async () => {
    const id = await write(crew, 'Slow');
    const words = new OwnWords(store.db);
    const used = async () => (await words.of(crew, 'down'))?.id ?? null;
    expect(await used()).toBe(id);
    await words.note(id, new TemplateError('undefined variable: nobody'));
    expect(await used()).toBe(id);
    await words.note(id, new TemplateError('it takes longer than 50 ms to fill in', true));
    expect(await used()).toBeNull();
    expect(await words.of(office, 'down')).toBeNull();
    expect((await fetchText(store.db, id))!.trouble).toBe('it takes longer than 50 ms to fill in');
    words.changed();
    expect(await used()).toBe(id);
  });

  it('that take too long give way to the built-in ones', async () => {
    const over = (name: string) => `{% for ${name} in r %}`;
    const slow = `{% assign r = (1..150) %}${['a', 'b', 'c'].map(over).join('')}${'{% endfor %}'.repeat(3)}`;
    const id = await write(crew, slow);
    await down();
    expect(lastOf('Crew')[1]).toBe('The host is there, but nothing listens on port 443.');
    expect((await fetchText(store.db, id))!.trouble).toBe('it takes longer than 50 ms to fill in');
  });

  it('are gone once they are deleted', async () => {
    const id = await write(crew, 'Gone soon');
    await down();
    await deleteText(store.db, id);
    await down();
    expect(lastOf('Crew')[1]).not.toBe('Gone soon');
  });

  it('are kept as they were handed over, whatever is written later', async () => {
    await write(null, 'At that time');
    const id = await down();
    await store.db('message_texts').update({ body: 'Later' });
    const story = (await fetchDeliveryStory(store.db, id, { linkBase: 'http://desk.test', zone: 'UTC' }))!;
    expect(story.text.lines).toEqual(['At that time']);
  });

  it('cannot break a message up into others', async () => {
    await write(crew, '{{ name }}\u202e\u0000 {{ "@everyone" }}');
    await down();
    expect(lastOf('Crew')[1]).toBe('Booking site @\u2060everyone');
  });

  it('are not needed for another language: each room hears in its own', async () => {
    await speak(office, 'de');
    const id = await down();
    expect(lastOf('Crew')[0]).toBe(BUILT_IN);
    expect(lastOf('Office').slice(0, 2)).toEqual([
      'Booking site ist ausgefallen',
      'Der Rechner ist da, aber an Port 443 hört niemand.',
    ]);
    const [first] = await fetchDeliveries(store.db, { limit: 1, ascending: true });
    const titles = [first!.id, id].map(async (one) => {
      const story = await fetchDeliveryStory(store.db, one, { linkBase: 'http://desk.test', zone: 'UTC' });
      return story!.text.title;
    });
    expect((await Promise.all(titles)).sort()).toEqual([BUILT_IN, 'Booking site ist ausgefallen']);
  });

  it('fill in causes in the language of the room', async () => {
    await speak(office, 'de');
    await write(null, '{{ advice }}');
    await down();
    expect([lastOf('Crew')[1], lastOf('Office')[1]]).toEqual([
      'Start the service, or check which port it listens on.',
      'Den Dienst starten, oder prüfen, an welchem Port er hört.',
    ]);
  });
});
