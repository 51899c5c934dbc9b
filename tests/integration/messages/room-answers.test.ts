import { beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { PRACTICE_BOT } from '@/standins/rooms/bot-room';
import { PRACTICE_MATRIX } from '@/standins/rooms/matrix-room';
import type { PracticeRoom } from '@/standins/rooms/practice-room';
import { freePort, until } from '../helpers';
import { withinProcess, type Within } from '../within';

describe('an answer in a room', () => {
  let product: Within;
  let harbour: Harbour;
  let slipway: number;
  let ramp: number;
  withinProcess((started) => (product = started));
  const room = (id: string): PracticeRoom => harbour.rooms.find((one) => one.id === id)!;
  const texts = (id: string) => room(id).messages.map(({ text }) => text);
  const arrives = (id: string, words: string) =>
    until(() => texts(id).find((text) => text.includes(words)), `${words} in ${id}`);
  const messageOf = (id: string, words: string) =>
    room(id).messages.find(({ text }) => text.includes(words))!.id!;
  const takenBy = async (watch: number) => {
    const { body } = await product.api('GET', `/watches/${watch}/conversation`);
    return (body as { taken: { by: string } | null }).taken?.by ?? null;
  };
  const isTaken = (watch: number, by: string | null) =>
    until(async () => (await takenBy(watch)) === by, `${watch} taken by ${by}`);
  async function watchNothing(name: string): Promise<number> {
    const settings = { host: '127.0.0.1', port: await freePort() };
    const rest = { secondLooks: 0, everySeconds: 5 };
    const made = await product.api('POST', '/watches', { kind: 'port', name, settings, ...rest });
    return (made.body as { id: number }).id;
  }

  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    const base = `http://127.0.0.1:${harbour.port}/rooms`;
    const { token, alias } = PRACTICE_MATRIX;
    // What was written before anybody listened is nobody's answer.
    room('matrix').write('piers', 'mine');
    const channels = [
      { kind: 'matrix', name: 'Office', settings: { address: `${base}/matrix`, token, room: alias } },
      { kind: 'bot', name: 'Crew', settings: { address: `${base}/bot`, ...PRACTICE_BOT, listens: true } },
      { kind: 'card-webhook', name: 'Pier', settings: { address: `${base}/cards/hook`, edits: true } },
      { kind: 'webhook', name: 'Wall', settings: { address: `${base}/crew/hook` } },
    ];
    for (const channel of channels)
      expect((await product.api('POST', '/channels', { ...channel, language: 'de' })).body).toMatchObject({
        name: channel.name,
      });
    slipway = await watchNothing('Slipway');
    await arrives('matrix', 'Slipway ist ausgefallen');
    await arrives('bot', 'Slipway ist ausgefallen');
    return () => harbour.stop();
  });

  it('is asked for where somebody listens, by the number of the watch, and nowhere else', async () => {
    const hint = `Oder hier antworten: meins ${slipway}`;
    expect(texts('matrix')[0]).toContain(hint);
    expect(texts('bot')[0]).toContain(hint);
    expect(await arrives('crew', 'Slipway')).not.toContain('antworten');
    expect(await takenBy(slipway)).toBeNull();
  });

  it('takes the only trouble there is, tells the others who has it, and gives it back', async () => {
    room('matrix').write('piers', 'I will look, is it mine?');
    room('matrix').write('piers', 'Mine!');
    await isTaken(slipway, 'piers');
    await arrives('bot', 'piers');
    const deeds = (await product.api('GET', '/deeds')).body as { deed: string; by: object }[];
    expect(deeds[0]).toMatchObject({ deed: 'answerInRoom', by: { kind: 'room', name: 'piers' } });
    room('bot').write('Ines', 'nicht meins');
    await isTaken(slipway, null);
  });

  it('is not left to believe so where it could not be noted', async () => {
    const db = await openStore(product.folder, { migrate: false });
    await db.raw(`CREATE TRIGGER full BEFORE INSERT ON deeds BEGIN SELECT RAISE(ABORT, 'no room'); END`);
    room('matrix').write('piers', 'mine');
    await arrives('matrix', 'Das ließ sich nicht festhalten');
    await db.raw('DROP TRIGGER full');
    await db.destroy();
    expect(await takenBy(slipway)).toBeNull();
  });

  it('says in the room which ones it may mean, and takes the one of that number or that is answered', async () => {
    ramp = await watchNothing('Ramp');
    await arrives('matrix', 'Ramp ist ausgefallen');
    room('matrix').write('piers', 'meins');
    const asked = await arrives('matrix', 'Mehreres ist offen');
    expect(asked).toContain(`meins ${slipway} (Slipway)`);
    expect(asked).toContain(`meins ${ramp} (Ramp)`);
    expect([await takenBy(slipway), await takenBy(ramp)]).toEqual([null, null]);
    room('matrix').write('piers', 'mine', messageOf('matrix', 'Ramp ist'));
    await isTaken(ramp, 'piers');
    room('bot').write('Ines', `mine ${slipway}`);
    await isTaken(slipway, 'Ines');
    room('bot').write('Ines', 'mine 99999');
    await arrives('bot', 'Mehreres ist offen');
  });

  it('is asked for of what likely has the same cause too, above the card it belongs to', async () => {
    await until(() => texts('cards').some((text) => text.includes('Ramp ist')), 'it is added');
    const [text] = texts('cards').filter((one) => one.includes('Ramp ist'));
    expect(text).toContain('Slipway ist ausgefallen');
    expect(text).toMatch(/Ramp ist ausgefallen[^]*take[^]*—[^]*Slipway ist ausgefallen/);
  });

  it('is heard by nobody once the channel listens no more', async () => {
    const { body } = await product.api('GET', '/channels');
    const bot = (body as { id: number; kind: string }[]).find(({ kind }) => kind === 'bot')!;
    const base = `http://127.0.0.1:${harbour.port}/rooms`;
    const settings = { address: `${base}/bot`, ...PRACTICE_BOT, listens: false };
    const changed = await product.api('PATCH', `/channels/${bot.id}`, { settings }, { 'if-match': '*' });
    expect(changed.status).toBe(200);
    room('bot').write('Ines', `not mine ${slipway}`);
    room('matrix').write('piers', `not mine ${ramp}`);
    await isTaken(ramp, null);
    expect(await takenBy(slipway)).toBe('Ines');
  });
});
