import { expect, it } from 'vitest';
import { doneOnce } from '@/api/idempotency';
import type { Principal } from '@/cases/frame/principal';
import type { World } from '@/cases/frame/world';
import { transaction } from '@/store/db/connection';
import { saveDeeds } from '@/store/access/deeds';
import { tempStore } from '../helpers';

const WHO: Principal = { type: 'token', tokenId: 3, tokenName: 'Clerk', rights: new Set() };

it('requests with the same key that begin at the same moment do it once, and are answered alike', async () => {
  const { db, close } = await tempStore();
  const vault = { open: (sealed: string) => sealed.slice(1), seal: (text: string) => `*${text}` };
  const world = { db, vault, now: () => 1_000_000_000 } as unknown as World;
  const by = { kind: 'token' as const, id: 3, name: 'Clerk' };
  let begun = 0;
  let all = () => {};
  const everybody = new Promise<void>((resolve) => (all = resolve));
  const ask = (key: string, body: object) =>
    doneOnce({ key, method: 'POST', path: '/watches', body }, WHO, world, async (keep) => {
      const turn = (begun += 1);
      if (begun === 3) all();
      // Each has found that nobody has done it before any of them does.
      await everybody;
      return transaction(db, async (trx) => {
        await saveDeeds(trx, { at: turn, deed: 'createWatch', by }, [{ kind: 'watch', id: turn, name: key }]);
        const answer = { body: `{"id":${turn}}`, headers: { etag: `"${turn}"` } };
        await keep(trx, answer);
        return answer;
      });
    });
  const answers = await Promise.all([ask('once', {}), ask('once', {}), ask('once', {})]);
  expect(await db('deeds').select('subject_name')).toEqual([{ subject_name: 'once' }]);
  expect(new Set(answers.map(({ answer }) => answer.body)).size).toBe(1);
  expect(answers.map(({ replayed }) => replayed).sort()).toEqual([false, true, true]);
  expect(answers.filter(({ answer }) => answer.headers.etag !== answers[0]!.answer.headers.etag)).toEqual([]);
  expect((await ask('once', {})).replayed).toBe(true);
  await expect(ask('once', { name: 'Another' })).rejects.toMatchObject({ code: 'key.reused' });
  await close();
});
