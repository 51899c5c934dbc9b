import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { forgetAsked, isConfirmed, mailboxOf, saveAsked, saveConfirmed } from '@/store/messages/addresses';
import { saveNewChannel } from '@/store/messages/channels';
import { fetchStuckChannels } from '@/store/messages/deliveries';
import { saveShared } from '@/store/watches/cascade';
import { fetchTellingThemselves } from '@/store/watches/telling-themselves';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../helpers';
import { sayTo } from '../say-to';

const NOW = Date.parse('2026-11-26T08:00:00Z');
const HOUR = 3_600_000;

describe('what waits for an answer', () => {
  let store: TempStore;
  beforeEach(async () => {
    store = await tempStore();
  });
  afterEach(() => store.close());

  describe('a mailbox that is asked', () => {
    const asked = (address: string, at: number) => saveAsked(store.db, address, at, at - HOUR);

    it('is the same however it is written, and said yes once', async () => {
      expect(mailboxOf('  Office@TernFerry.test ')).toBe('office@ternferry.test');
      expect(await isConfirmed(store.db, 'office@ternferry.test')).toBe(false);
      expect(await asked('Office@ternferry.test', NOW)).toBe(true);
      expect(await isConfirmed(store.db, 'office@ternferry.test')).toBe(false);
      await saveConfirmed(store.db, 'OFFICE@ternferry.test', NOW);
      expect(await isConfirmed(store.db, ' office@TERNFERRY.test')).toBe(true);
      expect(await isConfirmed(store.db, 'pier@ternferry.test')).toBe(false);
      expect(await store.db('mail_addresses')).toHaveLength(1);
    });

    it('is not asked where an account has it', async () => {
      await store
        .db('accounts')
        .insert({ email: 'Ines@ternferry.test', password_hash: 'x', created_at: NOW });
      expect(await isConfirmed(store.db, 'ines@TERNFERRY.test')).toBe(true);
    });

    it('is asked again after a while, after a failure, and by a clock that was set back', async () => {
      expect(await asked('pier@ternferry.test', NOW)).toBe(true);
      expect(await asked('pier@ternferry.test', NOW + HOUR - 1)).toBe(false);
      expect(await asked('pier@ternferry.test', NOW + HOUR)).toBe(true);
      expect(await asked('pier@ternferry.test', NOW + HOUR)).toBe(false);
      expect(await asked('pier@ternferry.test', NOW)).toBe(true);
      await forgetAsked(store.db, 'Pier@ternferry.test');
      expect(await asked('pier@ternferry.test', NOW + 1)).toBe(true);
      await saveConfirmed(store.db, 'pier@ternferry.test', NOW + 2);
      // Whoever said yes is not forgotten to have been asked.
      await forgetAsked(store.db, 'pier@ternferry.test');
      expect(await asked('pier@ternferry.test', NOW + 3)).toBe(false);
    });
  });

  it('a channel is stuck once a message that was tried waits too long, with what was said last', async () => {
    const channel = (name: string) =>
      saveNewChannel(store.db, {
        kind: 'webhook',
        name,
        settings: { address: 'http://crew.test/' },
        enabled: true,
        createdAt: NOW,
      });
    const [crew, pier] = [await channel('Crew room'), await channel('Pier room')];
    const event = { kind: 'steady' as const, since: NOW };
    await sayTo(store.db, { event, name: 'Kiosk', channels: [crew, pier], at: NOW });
    const stuck = (before: number) => fetchStuckChannels(store.db, before);
    // Nothing was tried yet: it is not the channel that keeps it.
    expect(await stuck(NOW + HOUR)).toEqual([]);
    await store.db('deliveries').where('channel_id', crew).update({ attempts: 2 });
    expect(await stuck(NOW + HOUR)).toEqual([{ id: crew, name: 'Crew room', said: '' }]);
    const { id: delivery } = (await store.db('deliveries').where('channel_id', crew).first())!;
    for (const said of ['503 busy', '502 gone'])
      await store.db('attempts').insert({ delivery_id: delivery, at: NOW, ok: 0, said });
    expect(await stuck(NOW + 1)).toEqual([{ id: crew, name: 'Crew room', said: '502 gone' }]);
    expect(await stuck(NOW)).toEqual([]);
    await store.db('channels').where('id', crew).update({ enabled: 0 });
    expect(await stuck(NOW + HOUR)).toEqual([]);
    await store.db('channels').where('id', crew).update({ enabled: 1 });
    await store.db('deliveries').update({ state: 'delivered' });
    expect(await stuck(NOW + HOUR)).toEqual([]);
  });

  it('watches that say themselves who hears are named, unless settings for many say it', async () => {
    const config = periodConfig(60, 0);
    await makeWatch(store.db, config);
    const [own, gone] = [
      await makeWatch(store.db, { ...config, tells: 'nobody' }),
      await makeWatch(store.db, { ...config, tells: 'nobody' }),
    ];
    await store.db('watches').where('id', gone).update({ deleted_at: NOW });
    const themselves = () => fetchTellingThemselves(store.db);
    expect(await themselves()).toEqual([own]);
    await store.db('sections').insert({ name: 'Piers', position: 1, settings: '{}' });
    for (const place of [
      { level: 'instance' as const },
      { level: 'kind' as const, kind: 'web' },
      { level: 'section' as const, section: 'Piers' },
    ]) {
      await saveShared(store.db, place, { tells: 'nobody' });
      expect(await themselves(), place.level).toBeNull();
      await saveShared(store.db, place, { every: 60 });
      expect(await themselves(), place.level).toEqual([own]);
    }
  });
});
