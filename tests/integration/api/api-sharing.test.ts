import { describe, expect, it } from 'vitest';
import { withinProcess, type Within } from '../within';

type Json = Record<string, never> & { id: number };

describe('settings set once, sections, tags and filters', () => {
  let product: Within;
  withinProcess((one) => (product = one));

  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  async function good<T = Json>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await api(method, path, body);
    expect(answer.status, JSON.stringify(answer.body)).toBeLessThan(300);
    return answer.body as T;
  }
  async function refusal(method: string, path: string, body: unknown): Promise<Record<string, string>> {
    const answer = await api(method, path, body);
    expect(answer.status).toBe(422);
    const { errors } = answer.body as { errors: { field: string; message: string }[] };
    return Object.fromEntries(errors.map((error) => [error.field, error.message]));
  }
  const port = (name: string, rest: object = {}) =>
    good('POST', '/watches', {
      kind: 'port',
      name,
      settings: { host: '127.0.0.1', port: product.port },
      ...rest,
    });
  const certificate = (name: string, rest: object = {}) =>
    good('POST', '/watches', {
      kind: 'certificate',
      name,
      settings: { host: '127.0.0.1', port: 4 },
      ...rest,
    });

  it('looks at all certificate watches once in two hours, without naming any of them', async () => {
    const mail = await certificate('Mail certificate');
    const rota = await certificate('Rota certificate', { everySeconds: 900 });
    expect(mail).toMatchObject({ everySeconds: 3600, sources: { everySeconds: 'product' } });
    expect(rota).toMatchObject({ everySeconds: 900, sources: { everySeconds: 'watch' } });
    const change = { level: 'kind', kind: 'certificate', everySeconds: 7200, settings: { soonDays: 30 } };
    const shown = await good('PATCH', '/shared-settings', { ...change, preview: true });
    expect(shown).toMatchObject({
      preview: true,
      watches: [
        {
          name: 'Mail certificate',
          changes: [
            { setting: 'everySeconds', label: 'Looks every', before: '1 h', after: '2 h' },
            { setting: 'settings.soonDays', before: '21', after: '30' },
          ],
        },
        { name: 'Rota certificate', changes: [{ setting: 'settings.soonDays', before: '21', after: '30' }] },
      ],
    });
    expect(await good('GET', `/watches/${mail.id}`)).toMatchObject({ everySeconds: 3600 });
    await good('PATCH', '/shared-settings', change);
    expect(await good('GET', `/watches/${mail.id}`)).toMatchObject({
      everySeconds: 7200,
      settings: { soonDays: 30 },
      sources: { everySeconds: 'kind', 'settings.soonDays': 'kind', timeoutSeconds: 'product' },
    });
    expect(await good('GET', `/watches/${rota.id}`)).toMatchObject({ everySeconds: 900 });

    // One call gives the own pace back; what is not named stays.
    const back = await good('PATCH', `/watches/${rota.id}`, { inherit: ['everySeconds'] });
    expect(back).toMatchObject({
      everySeconds: 7200,
      sources: { everySeconds: 'kind' },
      name: 'Rota certificate',
    });
    const own = await good('PATCH', `/watches/${rota.id}`, { settings: { soonDays: 10 } });
    expect(own).toMatchObject({ settings: { soonDays: 10 }, sources: { 'settings.soonDays': 'watch' } });
    await good('PATCH', '/shared-settings', {
      level: 'kind',
      kind: 'certificate',
      inherit: ['everySeconds'],
    });
    expect(await good('GET', `/watches/${rota.id}`)).toMatchObject({
      everySeconds: 3600,
      settings: { soonDays: 10 },
    });
    expect(await good('GET', '/shared-settings')).toMatchObject({
      kinds: { certificate: { 'settings.soonDays': 30 } },
      shipped: { certificate: { everySeconds: 3600 } },
    });
  });

  it('keeps only what was said in a watch that is made, and looks with what holds', async () => {
    await good('PATCH', '/shared-settings', { level: 'instance', timeoutSeconds: 7, secondLooks: 0 });
    const kiosk = await port('Kiosk North', { section: 'On the water', secondLooks: 1 });
    expect(kiosk).toMatchObject({
      timeoutSeconds: 7,
      secondLooks: 1,
      sources: { timeoutSeconds: 'instance', secondLooks: 'watch', everySeconds: 'product' },
    });
    await good('PATCH', '/shared-settings', { level: 'section', section: 'On the water', timeoutSeconds: 3 });
    expect(await good('GET', `/watches/${kiosk.id}`)).toMatchObject({
      timeoutSeconds: 3,
      sources: { timeoutSeconds: 'section' },
    });
    const moved = await good('PATCH', `/watches/${kiosk.id}`, { section: 'Crew house' });
    expect(moved).toMatchObject({ timeoutSeconds: 7, sources: { timeoutSeconds: 'instance' } });
    const tried = await good('POST', '/looks', {
      kind: 'port',
      section: 'On the water',
      settings: { host: '127.0.0.1', port: product.port },
    });
    expect(tried).toMatchObject({ verdict: 'fine', failsWhen: expect.stringContaining('3 s') });
  });

  it('refuses what it cannot use, and names it', async () => {
    const shared = (body: object) => refusal('PATCH', '/shared-settings', body);
    expect(await shared({ level: 'all' })).toHaveProperty('level');
    expect(await shared({ level: 'kind' })).toHaveProperty('kind');
    expect(await shared({ level: 'kind', kind: 'kettle' })).toEqual({
      kind: expect.stringContaining('got "kettle"'),
    });
    expect(await shared({ level: 'instance', everySeconds: 2 })).toEqual({
      everySeconds: 'Expected everySeconds to be a whole number of seconds from 5 to 2592000, got 2.',
    });
    expect(await shared({ level: 'instance', settings: { soonDays: 'soon' } })).toHaveProperty(
      'settings.soonDays',
    );
    expect(await shared({ level: 'instance', settings: { address: 'x' } })).toHaveProperty(
      'settings.address',
    );
    expect(await shared({ level: 'kind', kind: 'checkin', everySeconds: 60 })).toHaveProperty('everySeconds');
    expect(await shared({ level: 'instance', inherit: ['name'] })).toHaveProperty('inherit');
    expect(await shared({ level: 'instance', restsOn: [9999] })).toHaveProperty('restsOn');
    expect((await api('PATCH', '/shared-settings', { level: 'section', section: 'Nowhere' })).status).toBe(
      404,
    );
    expect(await refusal('POST', '/watches/changes', { action: 'pause' })).toHaveProperty('ids');
    expect(await refusal('POST', '/watches/changes', { ids: [99_999], action: 'pause' })).toHaveProperty(
      'ids',
    );
    expect(await refusal('POST', '/watches/changes', { filter: { states: ['gone'] } })).toHaveProperty(
      'filter.states[0]',
    );
  });

  it('lets a section rest on a router of its own, and refuses circles', async () => {
    const router = await port('Harbour router', { section: 'Harbour' });
    const camera = await port('Harbour camera', { section: 'Harbour' });
    const change = { level: 'section', section: 'Harbour', restsOn: [router.id] };
    expect(await good('PATCH', '/shared-settings', { ...change, preview: true })).toMatchObject({
      watches: [{ id: camera.id, changes: [{ before: 'nothing', after: 'Harbour router' }] }],
    });
    await good('PATCH', '/shared-settings', change);
    expect(await good('GET', `/watches/${router.id}`)).toMatchObject({ restsOn: [] });
    const problem = await refusal('PATCH', `/watches/${router.id}`, { restsOn: [camera.id] });
    expect(problem.restsOn).toBe('Expected no circle, got Harbour router → Harbour camera → Harbour router.');
    const gate = await port('Gate', { restsOn: [camera.id] });
    expect(await refusal('PATCH', '/shared-settings', { ...change, restsOn: [gate.id] })).toEqual({
      restsOn: expect.stringContaining('no circle'),
    });
    // What something rests on may be deleted, and the rest can still be changed.
    await good('DELETE', `/watches/${camera.id}`);
    expect(await good('PATCH', `/watches/${gate.id}`, { name: 'Pier gate' })).toMatchObject({
      restsOn: [camera.id],
    });
  });

  it('changes many watches at once, after a preview', async () => {
    const names = ['Booking port', 'Rota port', 'Tide port'];
    const made = [];
    for (const name of names) made.push(await port(name, { section: 'Ports', tags: ['office', 'lan'] }));
    const ids = made.map((watch) => watch.id);
    expect(made[0]).toMatchObject({ tags: ['lan', 'office'] });
    const change = { ids, section: 'Counter', addTags: ['pier'], removeTags: ['lan'], everySeconds: 30 };
    const shown = await good('POST', '/watches/changes', { ...change, preview: true });
    expect(shown).toMatchObject({ chosen: 3, preview: true });
    expect((shown.watches as unknown as object[])[0]).toMatchObject({
      name: 'Booking port',
      changes: [
        { label: 'Section', before: 'Ports', after: 'Counter' },
        { label: 'Tags', before: 'lan, office', after: 'office, pier' },
        { label: 'Looks every', before: '1 min', after: '30 s' },
      ],
    });
    expect(await good('GET', `/watches/${ids[0]}`)).toMatchObject({
      section: { name: 'Ports' },
      everySeconds: 60,
    });
    await good('POST', '/watches/changes', change);
    expect(await good('GET', `/watches/${ids[0]}`)).toMatchObject({
      section: { name: 'Counter' },
      everySeconds: 30,
      tags: ['office', 'pier'],
    });
    expect(await good('POST', '/watches/changes', { ids, inherit: ['everySeconds'] })).toMatchObject({
      watches: [{ changes: [{ before: '30 s', after: '1 min' }] }, {}, {}],
    });

    const byTag = await good<Json[]>('GET', '/watches?tag=pier&text=tide');
    expect(byTag.map((watch) => watch.name)).toEqual(['Tide port']);
    await good('POST', '/watches/changes', { filter: { tags: ['pier'] }, action: 'pause' });
    expect((await good<Json[]>('GET', '/watches?state=paused')).map((w) => w.name).sort()).toEqual(
      names.sort(),
    );
    const resumed = await good('POST', '/watches/changes', {
      filter: { sections: ['Counter'] },
      action: 'resume',
    });
    expect(resumed).toMatchObject({ chosen: 3, watches: [{ changes: [{ before: 'paused' }] }, {}, {}] });
    await good('POST', '/watches/changes', { ids, action: 'delete' });
    expect(await good<Json[]>('GET', '/watches?tag=pier')).toEqual([]);
    expect((await good<Json[]>('GET', '/deleted-watches')).map((watch) => watch.id)).toEqual(
      expect.arrayContaining(ids),
    );
  });

  it('orders sections and watches, and deletes a section without its watches', async () => {
    await good('POST', '/sections', { name: 'Empty so far' });
    expect(await refusal('POST', '/sections', { name: 'Empty so far' })).toHaveProperty('name');
    const before = await good<Json[]>('GET', '/sections');
    const ids = before.map((section) => section.id).reverse();
    const after = await good<Json[]>('POST', '/sections/order', { ids });
    expect(after.map((section) => section.id)).toEqual(ids);
    const first = await port('First', { section: 'Order' });
    const second = await port('Second', { section: 'Order' });
    await good('POST', '/watches/order', { ids: [second.id, first.id] });
    const inOrder = await good<Json[]>('GET', '/watches?section=Order');
    expect(inOrder.map((watch) => watch.name)).toEqual(['Second', 'First']);
    const section = (await good<Json[]>('GET', '/sections')).find((one) => String(one.name) === 'Order')!;
    expect(section).toMatchObject({ watches: 2 });
    expect(await good('PATCH', `/sections/${section.id}`, { name: 'Ordered' })).toMatchObject({ watches: 2 });
    await good('DELETE', `/sections/${section.id}`);
    expect(await good('GET', `/watches/${first.id}`)).toMatchObject({ section: null });
  });

  it('keeps tags with colours, and filters under names', async () => {
    const tag = await good('POST', '/tags', { name: 'night' });
    expect(tag).toMatchObject({ name: 'night', colour: expect.any(String), watches: 0 });
    expect(await refusal('POST', '/tags', { name: 'a,b' })).toHaveProperty('name');
    expect(await refusal('PATCH', `/tags/${tag.id}`, { colour: 'loud' })).toHaveProperty('colour');
    expect(await good('PATCH', `/tags/${tag.id}`, { colour: 'plum' })).toMatchObject({
      name: 'night',
      colour: 'plum',
    });
    const watch = await port('Night port', { tags: ['night'] });
    await good('DELETE', `/tags/${tag.id}`);
    expect(await good('GET', `/watches/${watch.id}`)).toMatchObject({ tags: [] });

    const filter = { states: ['down'], tags: ['night'], text: 'port' };
    const kept = await good('POST', '/filters', { name: 'Down at night', filter });
    expect(kept).toMatchObject({ name: 'Down at night', filter: { ...filter, kinds: [], sections: [] } });
    expect(await good('GET', '/filters')).toEqual([kept]);
    await good('DELETE', `/filters/${kept.id}`);
    expect(await good('GET', '/filters')).toEqual([]);
    expect((await api('DELETE', `/filters/${kept.id}`)).status).toBe(404);
  });
});
