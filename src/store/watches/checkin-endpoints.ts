import type { Knex } from 'knex';
import { mailRulesOf, type MailRules } from '@/core/reports/mail-words';
import { ownValues, resolve, wholeConfig, type Levels, type OwnConfig } from '@/core/settings/cascade';
import type { CheckinConfig } from '@/core/settings/watch-config';
import { prepared, transaction, withRawConnection, type Db } from '@/store/db/connection';
import { factsOf, threadOf } from '@/core/telling/happen';
import { saveHappening } from '@/store/messages/happenings';
import { fetchLevels } from './cascade';
import { insertWatch } from './watches';

/** Where a check-in address leads. */
export interface CheckinEndpoint {
  watchId: number;
  methods: 'any' | 'post';
  /** How its mails are read. */
  mail: MailRules;
  /** It is the key the watch had before; it counts until then. */
  oldUntil: number | null;
}

/** A section whose unknown readable names may make check-ins. */
export interface OpenSection {
  id: number;
  name: string;
  mostNew: number;
}

interface EndpointRow {
  id: number;
  kind: string;
  config: string;
  section: string | null;
  old_key_until: number | null;
}

/** A watch as far as its check-in address goes, by one condition; asked for by each job's first report. */
async function fetchEndpoint(
  db: Db,
  condition: string,
  values: readonly (string | number)[],
): Promise<EndpointRow | undefined> {
  return withRawConnection(
    db,
    (raw) =>
      prepared(
        raw,
        `SELECT watches.id, watches.kind, watches.config, watches.old_key_until, sections.name AS section
         FROM watches LEFT JOIN sections ON sections.id = watches.section_id
         WHERE watches.deleted_at IS NULL AND ${condition}`,
      ).get(...values) as EndpointRow | undefined,
  );
}

/** Where an address leads; levels are read only where it leads anywhere. */
async function endpointOf(
  row: EndpointRow | undefined,
  levels: () => Promise<Levels>,
  oldUntil: number | null,
): Promise<CheckinEndpoint | null> {
  if (row?.kind !== 'checkin') return null;
  const { id, kind, section } = row;
  const shared = await levels();
  const own = JSON.parse(row.config) as OwnConfig;
  const resolved = resolve({ id, kind, section, own: ownValues(kind, own, shared.usual) }, shared);
  const config = wholeConfig(own, resolved) as CheckinConfig;
  return { watchId: id, methods: config.methods ?? 'any', mail: mailRulesOf(config), oldUntil };
}

/** Where a random key leads, the present one or the one before; null where it leads nowhere. */
export async function fetchEndpointByKey(
  db: Db,
  key: string,
  now: number,
  levels = () => fetchLevels(db),
): Promise<CheckinEndpoint | null> {
  const present = await fetchEndpoint(db, 'watches.checkin_key = ?', [key]);
  if (present) return endpointOf(present, levels, null);
  const old = await fetchEndpoint(db, 'watches.old_checkin_key = ? AND watches.old_key_until > ?', [
    key,
    now,
  ]);
  return endpointOf(old, levels, Number(old?.old_key_until));
}

function namedWatch(db: Db, sectionId: number, name: string): Promise<{ id: number } | undefined> {
  return db('watches')
    .where({ section_id: sectionId, checkin_name: name })
    .whereNull('deleted_at')
    .first('id');
}

/** The check-in with a readable name in a section. */
export async function fetchNamedSo(
  db: Db,
  section: string,
  name: string,
): Promise<{ id: number; name: string } | null> {
  const row = await db('watches')
    .join('sections', 'sections.id', 'watches.section_id')
    .where('sections.name', section)
    .andWhere('watches.checkin_name', name)
    .whereNull('watches.deleted_at')
    .first<{ id: number; name: string } | undefined>('watches.id as id', 'watches.name as name');
  return row ?? null;
}

/** Where a readable name under the secret of a section leads, or the section itself where it leads nowhere yet. */
export async function fetchEndpointByName(
  db: Db,
  secret: string,
  name: string,
  levels = () => fetchLevels(db),
): Promise<CheckinEndpoint | OpenSection | null> {
  const section = await db('sections')
    .where({ checkin_secret: secret })
    .first<OpenSection | undefined>('id', 'name', 'most_new as mostNew');
  if (!section) return null;
  const row = await fetchEndpoint(db, 'watches.section_id = ? AND watches.checkin_name = ?', [
    section.id,
    name,
  ]);
  return row ? endpointOf(row, levels, null) : section;
}

export interface FirstContact {
  checkinName: string;
  watchName: string;
  checkinKey: string;
  at: number;
  /** Where it came from. */
  address: string;
}

/** How often a job is taken to report that nobody has said anything about. */
const USUAL_PERIOD_S = 86_400;

/**
 * Makes the check-in of a job that reported by itself, and the message about it; null where the section is full. Where
 * another report of the job was faster, it is the one that report made.
 */
export function saveFirstContact(
  db: Knex,
  section: OpenSection,
  contact: FirstContact,
): Promise<number | null> {
  return transaction(db, async (trx) => {
    const known = await namedWatch(trx, section.id, contact.checkinName);
    if (known) return known.id;
    const [{ n }] = (await trx('watches')
      .where({ section_id: section.id })
      .whereNotNull('checkin_name')
      .count({ n: '*' })) as unknown as [{ n: number }];
    if (n >= section.mostNew) return null;
    const id = await insertWatch(trx, {
      kind: 'checkin',
      name: contact.watchName,
      section: section.name,
      config: { type: 'checkin', schedule: { type: 'period', every: USUAL_PERIOD_S } },
      checkinKey: contact.checkinKey,
      checkinName: contact.checkinName,
      createdAt: contact.at,
    });
    const event = { kind: 'new-checkin' as const, section: section.name, address: contact.address };
    const made = { id, name: contact.watchName, kind: 'checkin', section: section.name, tags: [] };
    await saveHappening(
      trx,
      { thread: threadOf(id), phase: 'once', watch: factsOf(made), event },
      contact.at,
    );
    return id;
  });
}

/** Gives a watch a new key; the one it had counts until `oldUntil`. */
export async function saveNewKey(db: Db, watchId: number, key: string, oldUntil: number): Promise<void> {
  const row = await db('watches').where({ id: watchId }).first('checkin_key');
  await db('watches')
    .where({ id: watchId })
    .update({
      checkin_key: key,
      old_checkin_key: row?.checkin_key ?? null,
      old_key_until: oldUntil,
      old_key_used_at: null,
    });
}

export async function saveOldKeyUsed(db: Db, watchId: number, at: number): Promise<void> {
  await db('watches').where({ id: watchId }).update({ old_key_used_at: at });
}

/** The readable end of a watch's address; null takes it away. */
export async function saveCheckinName(db: Db, watchId: number, name: string | null): Promise<void> {
  await db('watches').where({ id: watchId }).update({ checkin_name: name });
}

export interface SectionEndpoint {
  secret: string | null;
  mostNew: number;
}

/** The secret under which the jobs of each section may report, by the section's name. */
export async function fetchSectionEndpoints(db: Db): Promise<Map<string, SectionEndpoint>> {
  const rows = await db('sections').select('name', 'checkin_secret', 'most_new');
  return new Map(rows.map((row) => [row.name, { secret: row.checkin_secret, mostNew: row.most_new }]));
}

export async function saveSectionEndpoint(db: Db, sectionId: number, door: SectionEndpoint): Promise<void> {
  await db('sections')
    .where({ id: sectionId })
    .update({ checkin_secret: door.secret, most_new: door.mostNew });
}
