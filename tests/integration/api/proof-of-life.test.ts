import { beforeAll, describe, expect, it } from 'vitest';
import { AnsweringRoom } from '../../unit/channels/answering';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

const KEPT = { kept: true };

describe('proof of life', () => {
  let product: Within;
  const elsewhere = new AnsweringRoom();
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const change = (body: object) => api('PATCH', '/proof-of-life', body);
  let channelId: number;

  beforeAll(async () => {
    await elsewhere.start();
    const settings = { address: `${elsewhere.base}/crew` };
    const made = await api('POST', '/channels', { kind: 'webhook', name: 'Crew room', settings });
    channelId = (made.body as { id: number }).id;
    return () => elsewhere.stop();
  });

  it('is none until somebody sets it', async () => {
    expect((await api('GET', '/proof-of-life')).body).toMatchObject({
      letter: null,
      call: null,
      lastCall: null,
    });
  });

  it('calls at once when it is set, and shows what came of it but not the address', async () => {
    const set = await change({ call: { address: `${elsewhere.base}/in/the-key`, everySeconds: 3600 } });
    expect(set.body).toMatchObject({ call: { address: KEPT, everySeconds: 3600 } });
    await until(() => elsewhere.asked.some(({ url }) => url === '/in/the-key'), 'called');
    await until(
      async () => ((await api('GET', '/proof-of-life')).body as { lastCall: object | null }).lastCall,
      'kept',
    );
    expect(JSON.stringify((await api('GET', '/proof-of-life')).body)).not.toContain('the-key');
    // What is left out stays, and so does what is kept.
    const letter = { channelId, days: [1, 5], at: '07:30' };
    const both = await change({ letter, call: { address: KEPT, everySeconds: 60 } });
    expect(both.body).toMatchObject({ letter, call: { address: KEPT, everySeconds: 60 } });
    expect((await change({ call: null })).body).toMatchObject({ letter, call: null });
  });

  it.each([
    [{ letter: { channelId: 999, days: [1], at: '07:00' } }, 'letter.channelId', 'There is no channel 999.'],
    [{ letter: { channelId: 1, days: [], at: '07:00' } }, 'letter.days', 'at least one day'],
    [{ letter: { channelId: 1, days: [8], at: '07:00' } }, 'letter.days[0]', 'from 1 to 7'],
    [{ letter: { channelId: 1, days: [1], at: '24:00' } }, 'letter.at', 'from 00:00 to 23:59, got "24:00"'],
    [{ call: { address: 'ftp://elsewhere.example' } }, 'call.address', 'http:// or https://'],
    [{ call: { address: KEPT } }, 'call.address', 'Expected the address that is called, got nothing.'],
    [{ call: { address: 'https://elsewhere.example', everySeconds: 1 } }, 'call.everySeconds', 'from 10 to'],
  ])('is refused where it is none: %j', async (body, field, message) => {
    const answer = await change(body);
    expect(answer.status).toBe(422);
    const [error] = (answer.body as { errors: { field: string; message: string }[] }).errors;
    expect(error!.field).toBe(field);
    expect(error!.message).toContain(message);
  });
});
