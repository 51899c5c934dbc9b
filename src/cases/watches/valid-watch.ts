import {
  giveBack,
  ownValues,
  resolve,
  sharedNames,
  wholeConfig,
  type Levels,
  type OwnConfig,
  type Values,
} from '@/core/settings/cascade';
import { circleFrom } from '@/core/settings/graph';
import { coreName, coreOf, wireName } from '@/core/settings/wire-names';
import type { WatchConfig } from '@/core/settings/watch-config';
import { partsOf } from '@/probes/diagnosis/watch-target';
import { probeKind, secretsOf } from '@/probes/kinds/registry';
import type { Vault } from '@/store/db/vault';
import type { WatchWithStatus } from '@/store/watches/watches';
import { Refusal, refused } from '@/cases/frame/refusal';
import { checkinSchema, probeSchema, watchKindIds } from '@/cases/schemas/watch';
import { sealSecrets, splitKept } from './secret-settings';
import { validateBody } from '@/cases/frame/validate';

export interface ValidWatch {
  kind: string;
  name: string;
  section: string | null;
  /** Undefined where the call did not say. */
  tags?: string[];
  /** What is set on the watch itself: this is what is kept. */
  own: OwnConfig;
  /** What holds for it, with all that comes from farther away. */
  config: WatchConfig;
}

/** What a check needs to know besides the watch itself. */
export interface Around {
  vault: Vault;
  levels: Levels;
  /** The settings it has so far, for secrets that stay as they are. */
  stored: object | null;
  /** The watch as it is; null for one that is new. */
  watch: WatchWithStatus | null;
  /** Those that rest on others, or are made of them. */
  tied: () => Promise<readonly Tied[]>;
  /** Which of these ids are watches. */
  knownOf: (ids: readonly number[]) => Promise<ReadonlySet<number>>;
  sections: readonly { id: number; name: string }[];
  /** Ids of the channels there are. */
  channels: readonly number[];
}

/** A watch as far as ties go. */
export type Tied = Pick<WatchWithStatus, 'id' | 'kind' | 'name' | 'config'>;

/** The way round in which watches would hang on themselves, by their names; null where there is none. */
export function circleAmong(watches: readonly Tied[], from: Iterable<number>): string | null {
  const names = new Map(watches.map((watch) => [watch.id, watch.name]));
  const edges = new Map(watches.map((w) => [w.id, [...(w.config.restsOn ?? []), ...partsOf(w)]]));
  for (const id of from) {
    const circle = circleFrom(edges, id);
    if (circle) return circle.map((one) => names.get(one) ?? String(one)).join(' → ');
  }
  return null;
}

/** Ties lead to watches there are, and never back to where they begin. */
async function checkTies(watch: Tied, { watch: stands, tied, knownOf }: Around): Promise<void> {
  // What it rested on before may have been deleted, and may come back.
  const before = new Set(stands?.config.restsOn);
  const ties: [string, number[]][] = [
    ['restsOn', watch.config.restsOn ?? []],
    ['settings.parts', partsOf(watch)],
  ];
  const all = ties.flatMap(([, ids]) => ids);
  if (all.length === 0) return;
  const known = await knownOf(all);
  for (const [field, ids] of ties) {
    const missing = ids.find((id) => !known.has(id) && !before.has(id));
    if (missing !== undefined)
      throw refused([{ field, message: `Expected ids of watches; there is no watch ${missing}.` }]);
  }
  if (!stands) return;
  const circle = circleAmong([...(await tied()).filter((other) => other.id !== watch.id), watch], [watch.id]);
  if (!circle) return;
  const field = ties[1]![1].length > 0 && ties[0]![1].length === 0 ? 'settings.parts' : 'restsOn';
  throw refused([{ field, message: `Expected no circle, got ${circle}.` }]);
}

/** Refuses ids of channels there are not. */
export function checkTellsTo({ tellsTo = [] }: Values, known: readonly number[]): void {
  const missing = (tellsTo as number[]).find((id) => !known.includes(id));
  if (missing === undefined) return;
  throw refused([{ field: 'tellsTo', message: `Expected ids of channels; there is no channel ${missing}.` }]);
}

type Body = Record<string, unknown>;

/** A section by its name, from its name or from what was read of it. */
export function sectionNameOf(given: unknown, sections: Around['sections']): unknown {
  if (typeof given !== 'object' || given === null || Array.isArray(given)) return given;
  const { id, name, ...rest } = given as { id?: unknown; name?: unknown };
  const refuse = (message: string) => refused([{ field: 'section', message }]);
  const extra = Object.keys(rest)[0];
  if (extra !== undefined) throw refuse(`Expected only id and name of a section; got ${extra.slice(0, 80)}.`);
  if (id === undefined || id === null) return name;
  const known = sections.find((section) => section.id === id);
  if (!known)
    throw refuse(`Expected the id of a section; there is none with ${JSON.stringify(id).slice(0, 80)}.`);
  if (name !== undefined && name !== known.name) {
    throw refuse(`Section ${known.id} is called “${known.name}”; send only its id, or only another name.`);
  }
  return known.name;
}

function without(fields: unknown, names: readonly string[]): Body {
  return Object.fromEntries(Object.entries(fields ?? {}).filter(([name]) => !names.includes(name)));
}

/** Refuses names in `inherit` that are no shared settings. */
export function checkInherited(names: readonly string[], known: readonly string[]): void {
  const wired = known.map(wireName);
  const strange = names.find((name) => !wired.includes(name));
  if (strange === undefined) return;
  const message = `Expected only ${wired.join(', ')}; got ${strange.slice(0, 80)}.`;
  throw refused([{ field: 'inherit', message }]);
}

/** Checks a watch as it came, seals its secrets, and works out what holds for it. */
export async function validateWatch(body: unknown, around: Around): Promise<ValidWatch> {
  if (body === null || typeof body !== 'object' || Array.isArray(body)) {
    throw new Refusal('input.unreadable', 'Expected a JSON object that describes a watch.');
  }
  const { kind: asked = 'web' } = body as Body;
  const kindId = typeof asked === 'string' ? asked : '';
  const schema = kindId === 'checkin' ? checkinSchema : probeSchema(kindId);
  if (!schema) {
    const message = `Expected kind to be one of ${watchKindIds().join(', ')}, got ${JSON.stringify((body as Body).kind)}.`;
    throw refused([{ field: 'kind', message }]);
  }
  const probe = probeKind(kindId);
  const split = probe ? splitKept(probe, (body as Body).settings) : null;
  const { section: typed, ...others } = body as Body;
  const given: Body = {
    ...others,
    ...(typed !== undefined && { section: sectionNameOf(typed, around.sections) }),
    kind: kindId,
    ...(split && { settings: split.settings }),
  };
  const valid = coreOf(await validateBody<Body>(schema, given, probe ? secretsOf(probe) : []));
  const { kind, name, section, tags, inherit = [], ...rest } = valid as Body & { inherit?: string[] };
  const back = inherit.map(coreName);
  const shared = sharedNames(kindId, around.levels.usual);
  checkInherited(inherit, shared);
  const said = ownValues(kindId, coreOf(given) as unknown as OwnConfig, around.levels.usual);
  const silent = shared.filter((one) => !Object.hasOwn(said, one) || said[one] === undefined);
  const settings =
    probe && split
      ? sealSecrets(probe, rest.settings as object, split.kept, around.stored, around.vault)
      : undefined;
  const checked = { type: probe ? 'probe' : 'checkin', ...rest, ...(settings && { settings }) };
  const own = giveBack(checked as unknown as OwnConfig, [...silent, ...back]);
  const watch = { kind: String(kind), section: section as string | null, id: around.watch?.id };
  const config = wholeConfig(
    own,
    resolve({ ...watch, own: ownValues(kindId, own, around.levels.usual) }, around.levels),
  );
  await checkTies({ id: around.watch?.id ?? -1, kind: kindId, name: String(name), config }, around);
  const before = around.watch?.own.tellsTo ?? [];
  checkTellsTo(said, [...around.channels, ...before]);
  return {
    kind: kindId,
    name: String(name) || (config.type === 'probe' ? probe!.nameOf(config.settings) : ''),
    section: watch.section,
    ...(tags !== undefined && { tags: tags as string[] }),
    own,
    config,
  };
}

/** The body that would make a watch as it is, for a change that says only what differs. */
export function bodyOf(watch: WatchWithStatus, settings: object | null): Body {
  const { type: _, ...own } = watch.own;
  const { kind, name, section } = watch;
  return { kind, name, section, ...own, ...(settings && { settings }) };
}

/** A body without the settings that are given back in the same breath. */
export function withoutInherited(body: Body, back: readonly string[]): Body {
  const prefix = 'settings.';
  const inner = back.filter((name) => name.startsWith(prefix)).map((name) => name.slice(prefix.length));
  return {
    ...without(body, back),
    ...(body.settings !== undefined && { settings: without(body.settings, inner) }),
  };
}
