import { USUAL_MAIL_RULES } from '@/core/reports/mail-words';
import type { CheckinConfig, ProbeConfig, WatchConfig } from './watch-config';

/** Settings by name, as JSON keeps them. Those of a kind's own form are called `settings.<name>`. */
export type Values = Readonly<Record<string, unknown>>;

/** Where a value comes from, the farthest first: what ships with the product, then what was set. */
export type Level = 'product' | 'instance' | 'kind' | 'section' | 'watch';

/** Everything that is set for more than one watch. */
export interface Levels {
  /** What ships for a kind, beside what ships for all: its pace, and its own settings that may be shared. */
  usual: Readonly<Record<string, Values>>;
  instance: Values;
  kinds: Readonly<Record<string, Values>>;
  /** By the name of the section. */
  sections: Readonly<Record<string, Values>>;
  /** What each kind has where a watch says nothing, shared or not. */
  defaults?: Readonly<Record<string, KindDefaults>>;
}

/** The settings of a kind as it ships: what a watch kept by an earlier version does not say comes from here. */
export interface KindDefaults {
  settings: Values;
  /** Of fields that hold rows: what a row has where it says nothing. */
  rows: Readonly<Record<string, Values>>;
}

export const NO_LEVELS: Levels = { usual: {}, instance: {}, kinds: {}, sections: {} };

/** A watch as it is kept: only what was set on the watch itself. */
export type OwnConfig =
  | ({ type: 'probe'; settings: object } & Partial<Omit<ProbeConfig, 'type' | 'settings'>>)
  | ({ type: 'checkin'; schedule: CheckinConfig['schedule'] } & Partial<
      Omit<CheckinConfig, 'type' | 'schedule'>
    >);

const FOR_ALL: Values = {
  restsOn: [],
  urgency: 'soon',
  runbook: '',
  runbookNote: '',
  tells: 'by-routes',
  tellsTo: [],
};

/** What ships for every probe and every check-in; kinds may bring other values. */
const SHIPPED = {
  probe: {
    every: 60,
    when: null,
    timeout: 10,
    secondLooks: 2,
    secondLookGap: 10,
    slowAfter: null,
    slowLooks: 3,
    ...FOR_ALL,
  },
  checkin: {
    leeway: 300,
    longestRun: null,
    shortestGap: null,
    methods: 'any',
    ...USUAL_MAIL_RULES,
    ...FOR_ALL,
  },
} as const satisfies Record<WatchConfig['type'], Values>;

const SETTING = 'settings.';
const RESTS_ON = 'restsOn';

/** The kind of a check-in; everything else is a probe. */
export function typeOfKind(kind: string): WatchConfig['type'] {
  return kind === 'checkin' ? 'checkin' : 'probe';
}

const namesOf = new WeakMap<Levels['usual'], Map<string, readonly string[]>>();

/** The names of all settings that watches of a kind share with others. */
export function sharedNames(kind: string, usual: Levels['usual']): readonly string[] {
  return remembered(namesOf, usual, kind, () => {
    const own = Object.keys(usual[kind] ?? {}).filter((name) => name.startsWith(SETTING));
    return [...Object.keys(SHIPPED[typeOfKind(kind)]), ...own];
  });
}

/** More is not kept of one kind: where everything differs, nothing is gained by it. */
const MOST_REMEMBERED = 5000;

/** Works something out once for each key, for as long as what it is made from is there. */
function remembered<T>(memory: WeakMap<object, Map<string, T>>, from: object, key: string, make: () => T): T {
  const known = memory.get(from) ?? new Map<string, T>();
  memory.set(from, known);
  const there = known.get(key);
  if (there !== undefined) return there;
  if (known.size >= MOST_REMEMBERED) known.clear();
  const made = make();
  known.set(key, made);
  return made;
}

export interface Resolved {
  values: Values;
  from: Readonly<Record<string, Level>>;
}

interface Resolving {
  values: Record<string, unknown>;
  from: Record<string, Level>;
}

/** Puts the values of a nearer level over those from farther away. */
function putOver({ values, from }: Resolving, names: readonly string[], level: Level, layer: Values): void {
  for (const name of names) {
    if (!Object.hasOwn(layer, name)) continue;
    values[name] = layer[name];
    from[name] = level;
    // Whoever says how often means it: set times from farther away do not hold any more.
    if (name === 'every' && !Object.hasOwn(layer, 'when') && names.includes('when')) {
      values.when = null;
      from.when = level;
    }
  }
}

/** The levels above a watch, the farthest first. */
function layersAbove(kind: string, section: string | null, levels: Levels): [Level, Values][] {
  const usual = Object.entries(levels.usual[kind] ?? {});
  return [
    ['product', SHIPPED[typeOfKind(kind)]],
    ['product', Object.fromEntries(usual.filter(([name]) => name.startsWith(SETTING)))],
    ['instance', levels.instance],
    // A pace that suits a kind is not lost because all others are looked at more often.
    ['product', Object.fromEntries(usual.filter(([name]) => !name.startsWith(SETTING)))],
    ['kind', levels.kinds[kind] ?? {}],
    ['section', section === null ? {} : (levels.sections[section] ?? {})],
  ];
}

const inherited = new WeakMap<Levels, Map<string, { layers: [Level, Values][]; resolved: Resolved }>>();

/** What comes from above to every watch of a kind in a section. */
function inheritedBy(kind: string, section: string | null, levels: Levels) {
  return remembered(inherited, levels, JSON.stringify([kind, section]), () => {
    const layers = layersAbove(kind, section, levels);
    const resolved: Resolving = { values: {}, from: {} };
    for (const [level, layer] of layers) putOver(resolved, sharedNames(kind, levels.usual), level, layer);
    return { layers, resolved };
  });
}

const saying = new WeakMap<Levels, Map<string, Resolved>>();

/** What holds for a watch, or would hold for one without settings of its own, and where each value comes from. */
export function resolve(
  watch: { id?: number; kind: string; section: string | null; own?: Values },
  levels: Levels,
): Resolved {
  const { kind, section, own = {} } = watch;
  const { layers, resolved } = inheritedBy(kind, section, levels);
  const over = (): Resolving => {
    const whole: Resolving = { values: { ...resolved.values }, from: { ...resolved.from } };
    putOver(whole, sharedNames(kind, levels.usual), 'watch', own);
    return whole;
  };
  // Of thousands of watches most say the same, or nothing: they share what comes of it, and what is made of that.
  if (!restsOnItself(resolved.values[RESTS_ON], watch.id)) {
    return remembered(saying, levels, JSON.stringify([kind, section, own]), over);
  }
  const whole = over();
  if (Object.hasOwn(own, RESTS_ON)) return whole;
  for (const [level, layer] of layers.toReversed()) {
    if (!Object.hasOwn(layer, RESTS_ON)) continue;
    whole.values[RESTS_ON] = layer[RESTS_ON];
    whole.from[RESTS_ON] = level;
    if (!restsOnItself(layer[RESTS_ON], watch.id)) break;
  }
  return whole;
}

/** What others rest on does not rest on itself because it belongs to them. */
function restsOnItself(value: unknown, id: number | undefined): boolean {
  return id !== undefined && ((value ?? []) as number[]).includes(id);
}

/** The settings a watch has of its own, by name. */
export function ownValues(kind: string, own: OwnConfig, usual: Levels['usual']): Values {
  const values: Record<string, unknown> = {};
  for (const name of sharedNames(kind, usual)) {
    const { holder, key } = placeOf(own as unknown as Record<string, unknown>, name);
    if (Object.hasOwn(holder, key)) values[name] = holder[key];
  }
  return values;
}

function placeOf(config: Record<string, unknown>, name: string) {
  return name.startsWith(SETTING)
    ? { holder: (config.settings ?? {}) as Record<string, unknown>, key: name.slice(SETTING.length) }
    : { holder: config, key: name };
}

/** Settings with everything their kind has: those kept by an earlier version know nothing of what came later. */
function completed(settings: object, defaults: KindDefaults | undefined): Record<string, unknown> {
  const whole: Record<string, unknown> = { ...defaults?.settings, ...settings };
  for (const [name, row] of Object.entries(defaults?.rows ?? {})) {
    const rows = whole[name];
    if (Array.isArray(rows)) whole[name] = rows.map((one: object) => ({ ...row, ...one }));
  }
  return whole;
}

const laidOut = new WeakMap<Values, { settings: Record<string, unknown>; rest: Record<string, unknown> }>();

/** Values as a configuration has them: those of a kind's own form apart. */
function layOut(values: Values) {
  const known = laidOut.get(values);
  if (known) return known;
  const config: Record<string, unknown> = { settings: {} };
  for (const [name, value] of Object.entries(values)) {
    const { holder, key } = placeOf(config, name);
    holder[key] = value;
  }
  const { settings, ...rest } = config;
  const parts = { settings: settings as Record<string, unknown>, rest };
  laidOut.set(values, parts);
  return parts;
}

/** The whole settings of a watch from its own and what holds for it. */
export function wholeConfig(own: OwnConfig, { values }: Resolved, defaults?: KindDefaults): WatchConfig {
  const { settings, rest } = layOut(values);
  const config: Record<string, unknown> = { ...own, ...rest };
  if (own.type === 'probe') config.settings = { ...completed(own.settings, defaults), ...settings };
  return config as unknown as WatchConfig;
}

/** Own settings without some of them, which then come from farther away. */
export function giveBack(own: OwnConfig, names: readonly string[]): OwnConfig {
  const config: Record<string, unknown> = { ...own };
  if (own.type === 'probe') config.settings = { ...own.settings };
  for (const name of names) {
    const { holder, key } = placeOf(config, name);
    delete holder[key];
  }
  return config as unknown as OwnConfig;
}

/** One setting of one watch that would be another. */
export interface SettingChange {
  name: string;
  before: unknown;
  after: unknown;
}

/** What differs between two states of what holds for a watch. */
export function changesBetween(before: Resolved, after: Resolved): SettingChange[] {
  const names = new Set([...Object.keys(before.values), ...Object.keys(after.values)]);
  return [...names].flatMap((name) => {
    const [was, is] = [before.values[name], after.values[name]];
    return JSON.stringify(was) === JSON.stringify(is) ? [] : [{ name, before: was, after: is }];
  });
}

/** A place where settings for several watches are kept. */
export type SharedPlace =
  | { level: 'instance' }
  | { level: 'kind'; kind: string }
  | { level: 'section'; section: string };

/** What holds at a place where nothing is set there, and the names for which kinds have values of their own. */
export function heldAt(place: SharedPlace, levels: Levels): Resolved & { varying: ReadonlySet<string> } {
  if (place.level === 'kind') {
    const kinds = { ...levels.kinds, [place.kind]: {} };
    return { ...resolve({ kind: place.kind, section: null }, { ...levels, kinds }), varying: new Set() };
  }
  const values: Record<string, unknown> = {};
  const from: Record<string, Level> = {};
  const varying = new Set<string>();
  const below = place.level === 'instance' ? { ...levels, instance: {} } : levels;
  for (const kind of [...Object.keys(levels.usual), 'checkin']) {
    const resolved = resolve({ kind, section: null }, below);
    for (const [name, value] of Object.entries(resolved.values)) {
      if (!Object.hasOwn(values, name)) {
        values[name] = value;
        from[name] = resolved.from[name]!;
      } else if (JSON.stringify(values[name]) !== JSON.stringify(value)) varying.add(name);
    }
  }
  return { values, from, varying };
}
