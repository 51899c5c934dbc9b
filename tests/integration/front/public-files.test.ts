import { execFileSync, spawnSync } from 'node:child_process';
import { writeFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { Ajv2020 } from 'ajv/dist/2020';
import Ajv from 'ajv';
import addFormats from 'ajv-formats';
import { HtmlValidate } from 'html-validate';
import ICAL from 'ical.js';
import jsonFeedSchema from 'jsonfeed-schema';
import nodeIcal from 'node-ical';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { drawBadge } from '@/server/pictures/drawn';
import { drawFile, drawSheet, type SheetsWorld } from '@/server/site/sheets';
import type { SheetAddress } from '@/site/frame/place';
import { saveNewIncident } from '@/store/pages/incidents';
import { fetchPage, saveNewPage, type Page } from '@/store/pages/pages';
import { saveNewWindow } from '@/store/maintenance/windows';
import { makeWatch, tempStore, webConfig, type TempStore } from '../helpers';
import { incidentFacts, LETTERS, line, pageContent } from '../pages';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const BASE = 'https://status.ternferry.test/';
const HOSTILE = '<script>alert(1)</script> & “quoted” ]]> \\" ; , é 🚢';

/** Pages and files as they are made, held against validators that nobody here wrote. */
describe('what a page is made of', () => {
  let store: TempStore;
  let page: Page;
  let world: SheetsWorld;
  let incident = 0;

  beforeAll(async () => {
    store = await tempStore();
    const made = (name: string, ago: number) =>
      makeWatch(store.db, webConfig('http://site.test/'), { name, createdAt: NOW - ago });
    const [one, two] = [await made('One', 200 * DAY_MS), await made('Two', 2 * DAY_MS)];
    await store.db('stretches').delete();
    const kinds = ['up', 'down', 'slow', 'maintenance', 'unobserved', 'up'] as const;
    for (const [i, kind] of kinds.entries()) {
      const began = NOW - (kinds.length - i) * 5 * HOUR_MS;
      await store.db('stretches').insert({ watch_id: one, began, kind, ended: began + 5 * HOUR_MS });
      if (kind !== 'down') continue;
      const why = { cause: 'port.refused', causes: '["port.refused"]', detail: '{}' };
      await store
        .db('outages')
        .insert({ watch_id: one, began, noticed: began, ended: began + 5 * HOUR_MS, ...why });
    }
    const id = await saveNewPage(
      store.db,
      pageContent(
        [line(one, HOSTILE, { description: HOSTILE }), line([one, two], 'Both', { shows: 'times' })],
        {
          title: `Ferries ${HOSTILE}`,
          intro: HOSTILE,
          contact: HOSTILE,
          footer: HOSTILE,
          links: [{ text: HOSTILE, address: 'https://ternferry.test/?a=1&b=2' }],
          accent: '#1f6e6a',
        },
      ),
    );
    page = (await fetchPage(store.db, id))!;
    const affected = [{ watchId: one, how: 'partly' as const }];
    incident = await saveNewIncident(
      store.db,
      incidentFacts(id, HOSTILE, NOW - HOUR_MS, { affected, body: HOSTILE }),
    );
    await saveNewIncident(store.db, {
      ...incidentFacts(id, 'Over', NOW - 3 * DAY_MS, { account: `**${HOSTILE}**\n\n- one` }),
      ended: NOW - 2 * DAY_MS,
    });
    await saveNewIncident(store.db, incidentFacts(id, 'Holidays', NOW - HOUR_MS, { kind: 'notice' }));
    const hours = (from: number, to: number) => ({ begins: NOW + from * HOUR_MS, ends: NOW + to * HOUR_MS });
    await saveNewWindow(store.db, { title: HOSTILE, watchIds: [one], ...hours(24, 26) });
    await saveNewWindow(store.db, { title: 'Under way', watchIds: [two], ...hours(-1, 1) });
    world = {
      db: store.db,
      now: () => NOW,
      zone: 'Europe/Lisbon',
      assets: (name) => `assets/${name}`,
      ...{ letters: LETTERS, baseUrl: 'https://status.ternferry.test' },
      lookFile: () => 'look-0.css',
    };
  });
  afterAll(() => store.close());

  const SHEETS: [string, SheetAddress][] = [
    ['page', { sheet: 'page', days: 90 }],
    ['week', { sheet: 'page', days: 7 }],
    ['day', { sheet: 'day', day: '2026-11-20' }],
    ['day before', { sheet: 'day', day: '2026-11-19' }],
    ['diary', { sheet: 'diary', month: null }],
    ['month without any', { sheet: 'diary', month: '2020-01' }],
  ];
  const draw = async (
    address: SheetAddress,
    filed = false,
    language: (typeof LANGUAGE_CODES)[number] = 'en',
  ) => {
    const root = address.sheet === 'page' ? './' : '../';
    const place = { root, chosen: null, filed, live: !filed };
    const drawn = await drawSheet(world, page, {
      ...{ address, words: null, language, place },
      madeAt: filed ? NOW : null,
    });
    return String(drawn!.body);
  };
  const file = async (name: Parameters<typeof drawFile>[2], base = BASE) =>
    String((await drawFile(world, page, name, { language: 'en', base })).body);

  const html = new HtmlValidate({
    extends: ['html-validate:standard', 'html-validate:a11y'],
    rules: {
      // React closes what is void, and keeps the case of attributes that HTML does not tell apart.
      'void-style': 'off',
      'attr-case': 'off',
      'no-trailing-whitespace': 'off',
      'long-title': 'off',
      'require-sri': 'off',
      'svg-focusable': 'off',
    },
  });
  const wrongWith = async (text: string) => {
    const { results } = await html.validateString(text);
    return results.flatMap(({ messages }) =>
      messages.map(({ ruleId, message, selector }) => `${ruleId}: ${message} at ${selector}`),
    );
  };

  it.each(SHEETS)('is HTML: the %s', async (_, address) => {
    expect(await wrongWith(await draw(address))).toEqual([]);
  });

  it('is HTML as a file, as a story, and in each language', async () => {
    expect(await wrongWith(await draw(SHEETS[0]![1], true))).toEqual([]);
    expect(await wrongWith(await draw({ sheet: 'incident', id: incident }))).toEqual([]);
    for (const language of LANGUAGE_CODES)
      expect(await wrongWith(await draw(SHEETS[0]![1], false, language))).toEqual([]);
  });

  it('runs nothing of what was typed', async () => {
    for (const [, address] of [...SHEETS, ['story', { sheet: 'incident', id: incident }] as const]) {
      const text = await draw(address);
      expect(text).not.toContain('<script>');
      expect(text).toContain('&lt;script&gt;');
    }
  });

  it('is a feed by the grammar of Atom', async (test) => {
    if (spawnSync('xmllint', ['--version']).error) return test.skip('xmllint is not installed');
    const atom = join(store.folder, 'feed.atom');
    const row = () => store.db('incidents').where({ id: incident });
    const { title } = (await row().first())!;
    // As it could be kept before such was refused.
    await row().update({ title: `${title} \u0001\u000b\uffff` });
    writeFileSync(atom, await file('feed.atom'));
    await row().update({ title });
    execFileSync('xmllint', ['--noout', '--relaxng', 'tests/grammars/atom.rng', atom], { stdio: 'pipe' });
    rmSync(atom);
  });

  it('has entries in its feeds that stay the same wherever the page is found', async () => {
    const elsewhere = 'https://ternferry.test/p/boats/';
    const atom = await file('feed.atom');
    expect(atom).toContain(`href="${BASE}incident/${incident}"`);
    const idsOf = (text: string) => [...text.matchAll(/<id>([^<]+)<\/id>/g)].map(([, id]) => id!);
    const ids = idsOf(atom);
    expect(ids.length).toBeGreaterThan(2);
    expect(new Set(ids).size).toBe(ids.length);
    for (const id of ids)
      expect(id).toMatch(/^urn:uuid:[\da-f]{8}-[\da-f]{4}-5[\da-f]{3}-[89ab][\da-f]{3}-[\da-f]{12}$/);
    expect(idsOf(await file('feed.atom', elsewhere))).toEqual(ids);
    const jsonIds = async (base: string) =>
      (JSON.parse(await file('feed.json', base)) as { items: { id: string }[] }).items.map(({ id }) => id);
    expect((await jsonIds(BASE)).sort()).toEqual(ids.slice(1).sort());
    expect(await jsonIds(elsewhere)).toEqual(await jsonIds(BASE));
  });

  it('says the same in a feed until something changes', async () => {
    const before = await file('feed.atom');
    world = { ...world, now: () => NOW + 600_000 };
    expect(await file('feed.atom')).toBe(before);
    world = { ...world, now: () => NOW };
  });

  it('is a feed by the schema of JSON Feed', async () => {
    const feed = JSON.parse(await file('feed.json')) as { version: string; items: { title: string }[] };
    const ajv = new Ajv({ strict: false, allErrors: true, validateSchema: false });
    (addFormats as unknown as (to: object) => void)(ajv);
    const { $schema: _draft, ...schema } = jsonFeedSchema as { $schema: string };
    const validate = ajv.compile(schema);
    validate({ ...feed, version: 'https://jsonfeed.org/version/1' });
    expect(validate.errors).toBeNull();
    expect(feed.version).toBe('https://jsonfeed.org/version/1.1');
    expect(feed.items.map(({ title }) => title)).toContain(HOSTILE);
  });

  it('is a calendar that two readers read alike', async () => {
    const text = await file('maintenance.ics');
    const calendar = new ICAL.Component(ICAL.parse(text) as never);
    const mine = calendar.getAllSubcomponents('vevent').map((one) => {
      const { summary, startDate, endDate, uid } = new ICAL.Event(one);
      return [uid, summary, startDate.toJSDate().getTime(), endDate.toJSDate().getTime()];
    });
    const theirs = Object.values(nodeIcal.sync.parseICS(text)).flatMap((one) =>
      one?.type === 'VEVENT' ? [[one.uid, one.summary, one.start.getTime(), one.end.getTime()]] : [],
    );
    expect(mine.sort()).toEqual(theirs.sort());
    expect(mine).toEqual([
      [expect.any(String), HOSTILE, NOW + 24 * HOUR_MS, NOW + 26 * HOUR_MS],
      [expect.any(String), 'Under way', NOW - HOUR_MS, NOW + HOUR_MS],
    ]);
    expect(text.endsWith('\r\nEND:VCALENDAR\r\n')).toBe(true);
    for (const row of text.split('\r\n')) expect(Buffer.byteLength(row)).toBeLessThanOrEqual(75);
  });

  it('tells programs its state by the schema it publishes', async () => {
    const ajv = new Ajv2020({ allErrors: true, strict: true });
    (addFormats as unknown as (to: object) => void)(ajv);
    const validate = ajv.compile(JSON.parse(await file('state.schema.json')) as object);
    const state = JSON.parse(await file('state.json')) as { services: object[] };
    validate(state);
    expect(validate.errors).toBeNull();
    expect(state).toMatchObject({
      page: { address: BASE },
      incidents: [{ title: HOSTILE, affected: [{ how: 'partly' }] }],
      maintenance: [{ title: 'Under way' }, { title: HOSTILE }],
    });
    expect(state.services[0]).toMatchObject({ name: HOSTILE, days: 90, observedSeconds: 4 * 5 * 3600 });
  });

  it('gives figures as OpenMetrics writes them', async () => {
    const rows = (await file('metrics')).split('\n');
    expect(rows.slice(-2)).toEqual(['# EOF', '']);
    // OpenMetrics 1.0, ABNF: a sample is a name, labels with escaped values, and a number.
    const label = String.raw`[a-z_]+="(?:[^"\\\n]|\\[\\"n])*"`;
    const sample = new RegExp(
      String.raw`^([a-z_]+)(?:\{${label}(?:,${label})*\})? -?\d+(?:\.\d+)?(?:e-?\d+)?$`,
    );
    const families = new Set<string>();
    for (const row of rows.slice(0, -2)) {
      const type = /^# TYPE ([a-z_]+) (gauge|stateset)$/.exec(row);
      if (type) families.add(type[1]!);
      else if (!/^# (HELP|UNIT) [a-z_]+ \S.*$/.test(row)) {
        expect(row).toMatch(sample);
        expect(families).toContain(sample.exec(row)![1]);
      }
    }
    expect([...families]).toEqual([
      'lantern_service_state',
      'lantern_service_uptime_ratio',
      'lantern_incidents_open',
    ]);
  });
});

describe('a page of a hundred watches over ninety days', () => {
  it('is sent in 60 kB, whatever happened', async () => {
    const store = await tempStore();
    const range = { from: NOW - 90 * DAY_MS, to: NOW };
    const lines: ReturnType<typeof line>[] = [];
    for (let n = 0; n < 100; n += 1) {
      const id = await makeWatch(store.db, webConfig('http://site.test/'), { name: `W${n}`, createdAt: 0 });
      lines.push(line(id, `Ticket kiosk at pier ${n}`));
      await store.db('stretches').where({ watch_id: id }).delete();
      // Something every other day: far more than anybody would bear.
      const stretches = Array.from({ length: 90 }, (_, i) => ({
        watch_id: id,
        began: range.from + i * DAY_MS + ((n * 7919 + i * 104_729) % 80_000_000),
        kind: (['up', 'down', 'up', 'slow'] as const)[i % 4]!,
      }));
      const rows = stretches.map((one, i) => ({ ...one, ended: stretches[i + 1]?.began ?? NOW }));
      await store.db('stretches').insert(rows);
    }
    const id = await saveNewPage(store.db, pageContent(lines));
    const page = (await fetchPage(store.db, id))!;
    const world = {
      db: store.db,
      now: () => NOW,
      zone: 'UTC',
      assets: (name: string) => name,
      ...{ letters: LETTERS, baseUrl: null },
      lookFile: () => null,
    };
    const drawn = await drawSheet(world, page, {
      ...{ address: { sheet: 'page', days: 90 }, words: null, language: 'en', madeAt: null },
      place: { root: './', chosen: null, filed: false, live: true },
    });
    expect(String(drawn!.body)).toContain('Ticket kiosk at pier 99');
    expect(gzipSync(drawn!.body).length).toBeLessThan(60_000);
    await store.close();
  });
});

describe('a badge', () => {
  it('is told of one moment: what is out is not calm since then', async () => {
    const store = await tempStore();
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: NOW - DAY_MS });
    await store.db('stretches').delete();
    const began = NOW - HOUR_MS;
    await store.db('stretches').insert({ watch_id: id, began, kind: 'down', ended: null });
    const why = { cause: 'port.refused', causes: '["port.refused"]', detail: '{}' };
    await store.db('outages').insert({ watch_id: id, began, noticed: began, ended: null, ...why });
    const page = (await fetchPage(
      store.db,
      await saveNewPage(store.db, pageContent([line(id, 'Booking')])),
    ))!;
    let clock = NOW;
    const world: SheetsWorld = {
      ...{ db: store.db, zone: 'UTC', letters: LETTERS, baseUrl: null, lookFile: () => null },
      assets: (name) => name,
      // Time goes on while it is drawn.
      now: () => (clock += 40),
    };
    const wish = { shows: 'calm', label: '', light: 'light', shape: 'round', ground: null, size: 1 } as const;
    const look = { of: 'page', as: 'svg', wish, days: 90, language: 'en' } as const;
    expect(String((await drawBadge(world, page, look))!.body)).toContain(': out for 1 h</title>');
    await store.close();
  });
});
