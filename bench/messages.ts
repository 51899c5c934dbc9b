import { NO_HOUSE } from '@/channels/frame/house';
import { Dispatcher } from '@/engine/messages/dispatcher';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import { tempStore } from '../tests/integration/helpers';
import { sayTo } from '../tests/integration/say-to';
import { startBare } from './load';
import type { BenchTable } from './table';

const CHANNELS = 8;
/** Of one round, to each channel. */
const MESSAGES = 250;
const EVENT = { kind: 'new-checkin', section: 'Piers', address: '192.0.2.7' } as const;

/** Messages handed over a second, each kept with its answer, against a bare loop of the same posts by turns. */
export async function messages(table: BenchTable): Promise<void> {
  const receiver = await startBare(['site']);
  const store = await tempStore();
  const { db } = store;
  const address = (i: number) => `http://127.0.0.1:${receiver.port}/${i}`;
  const channels: number[] = [];
  for (let i = 0; i < CHANNELS; i += 1) {
    const settings = { address: address(i), user: '', password: '' };
    const room = { kind: 'webhook', name: `Room ${i}`, settings, enabled: true, createdAt: 0 };
    channels.push(await saveNewChannel(db, room));
  }
  let left = 0;
  let done: () => void = () => undefined;
  const dispatcher = new Dispatcher({
    db,
    vault: openVault(store.folder),
    now: () => Date.now(),
    zone: 'UTC',
    linkBase: 'http://watch.ternferry.test',
    house: NO_HOUSE,
    onDelivered: () => {
      left -= 1;
      if (left === 0) done();
    },
    onError: (error) => {
      throw error;
    },
  });
  let body = '';
  const ours = async () => {
    for (let i = 0; i < MESSAGES; i += 1)
      await sayTo(db, { event: EVENT, name: `Kiosk ${i}`, channels, at: Date.now(), thread: `w${i}` });
    left = MESSAGES * CHANNELS;
    const over = new Promise<void>((resolve) => (done = resolve));
    const started = performance.now();
    dispatcher.wake();
    await over;
    return (MESSAGES * CHANNELS * 1000) / (performance.now() - started);
  };
  const bare = async () => {
    body ||= JSON.stringify({
      text: 'Kiosk 1 reported for the first time\nA check-in was made for it.\nhttp://x',
    });
    const headers = { 'content-type': 'application/json' };
    const started = performance.now();
    await Promise.all(
      channels.map(async (_, i) => {
        for (let n = 0; n < MESSAGES; n += 1)
          await (await fetch(address(i), { method: 'POST', headers, body })).arrayBuffer();
      }),
    );
    return (MESSAGES * CHANNELS * 1000) / (performance.now() - started);
  };
  await table.rounds(`messages handed over a second, ${CHANNELS} channels`, ours, bare, 0.6, 3);
  await dispatcher.close(0);
  await store.close();
  receiver.process.kill();
}
