import { existsSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openStore } from '@/store/db/open';
import { connect, openRoom } from '../chat-room';
import { until } from '../helpers';
import { startWithin, type Within } from '../within';

const leave: (() => Promise<unknown>)[] = [];
const folders = new Set<string>();

afterEach(async () => {
  vi.restoreAllMocks();
  for (const stop of leave.splice(0)) await stop();
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
  folders.clear();
});

const room = () => openRoom((stop) => leave.push(stop));

async function within(folder?: string): Promise<Within> {
  const started = await startWithin({}, folder);
  leave.push(started.stop);
  folders.add(started.folder);
  return started;
}

/** Waits until there is a message of it, whoever gets it. */
async function isSaid(folder: string): Promise<void> {
  const db = await openStore(folder, { migrate: false });
  await until(() => db('messages').where('event', 'like', '%key.lost%').first(), 'it is told');
  await db.destroy();
}

describe('the key of the secrets', () => {
  it('that is missing is told, keeps what waits, and is taken back', async () => {
    const chat = await room();
    const own = await within();
    const channel = await connect(own, chat.address);
    await own.stop();
    const key = join(own.folder, 'secrets.key');
    renameSync(key, `${key}.away`);
    const said = vi.spyOn(console, 'log').mockReturnValue();
    const lines = () => said.mock.calls.splice(0).join('\n');
    const without = await within(own.folder);
    expect(lines()).toContain('The key that opens the secrets is not the one they were sealed with');
    expect(existsSync(key)).toBe(false);
    const channels = (await without.api('GET', '/channels')).body as { shown: string }[];
    expect(channels[0]!.shown).toContain('cannot be opened with the present key');
    const pier = await room();
    const other = await connect(without, pier.address, 'Pier room');
    await isSaid(own.folder);
    expect(chat.messages).toEqual([]);
    // What was entered meanwhile stays readable when the old key is back, and the message for the first room waits.
    await without.stop();
    expect(readdirSync(own.folder).filter((name) => /^secrets-.*\.key$/.test(name))).toHaveLength(1);
    renameSync(`${key}.away`, key);
    const back = await within(own.folder);
    expect(lines()).not.toContain('is not the one they were sealed with');
    said.mockRestore();
    for (const id of [channel, other]) {
      expect((await back.api('POST', `/channels/${id}/test`, {})).body).toMatchObject({ ok: true });
    }
    const told = () => chat.messages.filter((text) => text.includes('The key that opens the secrets')).length;
    await until(() => told() === 1, 'the first room hears what waited for it', 90_000);
  });

  it('is the present one once every secret was entered again', async () => {
    const chat = await room();
    const own = await within();
    const id = await connect(own, chat.address);
    await own.stop();
    rmSync(join(own.folder, 'secrets.key'));
    const without = await within(own.folder);
    // The only room there is cannot be told of it.
    await isSaid(own.folder);
    expect((await without.api('PATCH', `/channels/${id}`, { enabled: false })).status).toBe(200);
    const again = { settings: { address: chat.address }, enabled: true };
    expect((await without.api('PATCH', `/channels/${id}`, again)).status).toBe(200);
    expect((await without.api('POST', `/channels/${id}/test`, {})).body).toMatchObject({ ok: true });
    await until(
      () => chat.messages.some((text) => text.includes('can be opened again')),
      'it is over',
      60_000,
    );
  });
});
