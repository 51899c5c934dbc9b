import { describe, expect, it } from 'vitest';
import { ROUTES } from '@/api/routes';
import { withinProcess, type Within } from '../within';

type Json = Record<string, unknown> & { id: number };

/** What was read can be sent back, whatever has become of what it names: what was deleted may come back. */
describe('what was read is taken back', () => {
  let product: Within;
  /** One of each, by its list, as it is changed by hand. */
  const made = new Map<string, { id: number; change: object }>();
  const gone: string[] = [];
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: object) => product.api(method, path, body);
  const make = async (list: string, body: object, at = `/${list}`) => {
    const answer = await api('POST', at, body);
    expect([list, answer.status, answer.body]).toEqual([list, 201, expect.anything()]);
    return (answer.body as Json).id;
  };
  const keep = async (list: string, body: object, change: object, at?: string) =>
    void made.set(list, { id: await make(list, body, at), change });
  const first = async (list: string) => ((await api('GET', `/${list}`)).body as unknown as Json[])[0]!.id;

  it('of every kind there is: one each that names others', async () => {
    const port = { kind: 'port', settings: { host: '127.0.0.1', port: 9 }, everySeconds: 86_400 };
    const webhook = { kind: 'webhook', settings: { address: 'http://127.0.0.1:9/' } };
    const letters = { host: '127.0.0.1', port: 9, security: 'none', from: 'lantern@ternferry.test' };
    const spare = await make('channels', { ...webhook, name: 'Spare room' });
    const mail = await make('channels', {
      ...{ kind: 'mail', name: 'Letters', settings: { ...letters, to: 'ines@ternferry.test' } },
    });
    const rests = await make('watches', { ...port, name: 'Router', section: 'Piers', tags: ['night'] });
    const [sectionId, tagId] = [await first('sections'), await first('tags')];
    await keep('channels', { ...webhook, name: 'Crew room', fallbackId: spare }, { name: 'Crew' });
    await keep(
      'watches',
      { ...port, name: 'Kiosk', restsOn: [rests], tells: 'besides', tellsTo: [spare] },
      { name: 'Ticket kiosk' },
    );
    const { id: kiosk } = made.get('watches')!;
    const chosen = { all: false, sections: ['Piers'], tags: ['night'], ids: [rests] };
    await keep(
      'routes',
      {
        name: 'All of it',
        watches: { ...chosen, except: { ids: [rests] } },
        steps: [{ after: 0, channels: [spare] }],
      },
      { name: 'Some of it' },
    );
    const sections = [
      { title: 'All', items: [{ label: 'Kiosk', watchIds: [rests, kiosk] }] },
      { title: 'Piers', items: [], follows: { sectionId, tagId: null } },
      { title: 'Nights', items: [], follows: { sectionId: null, tagId } },
    ];
    await keep(
      'pages',
      { title: 'Ferries', slug: 'ferries', sections, follow: { channelId: mail, perHour: 10 } },
      { title: 'Boats' },
    );
    const { id: page } = made.get('pages')!;
    const other = await make('pages', { title: 'Partners', slug: 'partners', sections: [] });
    const planned = { watchIds: [rests], sectionIds: [sectionId], tagIds: [tagId] };
    const [from, until] = [1, 2].map((hours) => new Date(Date.now() + hours * 3_600_000).toISOString());
    await keep('windows', { ...planned, title: 'New pier', from, until }, { title: 'The pier' });
    const weekly = { rule: 'FREQ=WEEKLY', zone: 'UTC', first: '2030-12-01T02:00', lastsMinutes: 60 };
    await keep('recurring-windows', { ...planned, ...weekly, title: 'Updates' }, { title: 'All updates' });
    await keep(
      'incidents',
      {
        ...{ title: 'Slow', stage: 'looking', body: 'We look.', pageIds: [page, other] },
        affected: [{ watchId: rests, how: 'out' }],
      },
      { title: 'Slow again' },
    );
    await keep(
      'public-texts',
      { name: 'Storm', title: 'A storm', body: 'It blows.', over: 'Over.' },
      { name: 'Gale' },
    );
    await keep(
      'message-texts',
      { happening: 'down', title: '{{ name }}', body: 'Look.' },
      { title: '{{ name }}!' },
    );
    await keep('sections', { name: 'Crew house' }, { name: 'The house' });
    await keep('tags', { name: 'boats' }, { colour: 'plum' });
    gone.push(`watches/${rests}`, `sections/${sectionId}`, `tags/${tagId}`, `pages/${other}`);
    gone.push(`channels/${spare}`);
    const { status, body } = await api('DELETE', `/channels/${mail}`);
    expect([status, (body as { code: string }).code]).toEqual([409, 'channel.in-use']);
    const changed = ROUTES.filter(({ method }) => method === 'PATCH').flatMap(
      ({ path }) => /^\/([\w-]+)\/\{id\}$/.exec(path)?.[1] ?? [],
    );
    expect([...made.keys()].sort()).toEqual(
      [...new Set(changed)].filter((list) => list !== 'followers').sort(),
    );
  });

  const sendBack = async () => {
    const refused: unknown[] = [];
    for (const [list, { id, change }] of made) {
      const read = await api('GET', `/${list}/${id}`);
      for (const body of [read.body, change] as object[]) {
        const { status, body: answer } = await api('PATCH', `/${list}/${id}`, body);
        if (status !== 200) refused.push([list, status, (answer as { detail?: string }).detail]);
      }
    }
    return refused;
  };

  it('while all it names is there', async () => {
    expect(await sendBack()).toEqual([]);
  });

  it('once all that was deleted, and then changed', async () => {
    for (const path of gone) expect((await api('DELETE', `/${path}`)).status, path).toBe(204);
    expect(await sendBack()).toEqual([]);
  });

  it('and counts what is there: of a window nothing is left', async () => {
    const { id } = made.get('windows')!;
    expect((await api('GET', `/windows/${id}`)).body).toMatchObject({ covers: [] });
  });

  it('but names nothing anew that there is not', async () => {
    const [id] = [Number(gone[0]!.split('/')[1])];
    const line = { title: '', items: [{ label: 'Gone', watchIds: [id] }] };
    const page = await api('POST', '/pages', { title: 'New', slug: 'new', sections: [line] });
    expect([page.status, (page.body as { detail: string }).detail]).toEqual([
      422,
      `Expected known watches, got ${id}.`,
    ]);
  });
});
