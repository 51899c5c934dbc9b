import * as cascade from '@/core/settings/cascade';
import { coreName, wireName } from '@/core/settings/wire-names';
import { settingValueText } from '@/core/settings/setting-words';
import { sharedWords } from '@/probes/diagnosis/shared-words';
import type { TiedWatch } from '@/store/watches/tied';
import type { WatchWithStatus } from '@/store/watches/watches';
import { refused } from '@/cases/frame/refusal';
import { circleAmong } from './valid-watch';

const SETTING = 'settings.';

/** The values a body gave, by their names in the cascade, as they came out of their checks. */
export function saidValues(given: object, valid: object): cascade.Values {
  const said: [string, unknown][] = [];
  for (const name of Object.keys(given)) {
    if (name !== 'settings') said.push([coreName(name), (valid as cascade.Values)[name]]);
  }
  const settings = (given as { settings?: object }).settings ?? {};
  const checked = ((valid as cascade.Values).settings ?? {}) as cascade.Values;
  for (const name of Object.keys(settings)) said.push([`${SETTING}${name}`, checked[name]]);
  return Object.fromEntries(said.filter(([, value]) => value !== undefined));
}

/** cascade.Values with others put over them and some given back. */
export function mergeValues(
  old: cascade.Values,
  said: cascade.Values,
  back: readonly string[],
): cascade.Values {
  const merged = Object.entries({ ...old, ...said }).filter(([name]) => !back.includes(name));
  return Object.fromEntries(merged);
}

/** A watch as it would be: its place in the cascade and its own settings. */
export interface Moved {
  section: string | null;
  own: cascade.OwnConfig;
}

function resolvedAs(
  watch: WatchWithStatus,
  { section, own }: Moved,
  levels: cascade.Levels,
): cascade.Resolved {
  const { id, kind } = watch;
  return cascade.resolve({ id, kind, section, own: cascade.ownValues(kind, own, levels.usual) }, levels);
}

/** One thing about a watch that would be another, in words. */
export interface Change {
  /** The name of the setting, where it is one. */
  setting?: string;
  label: string;
  before: string;
  after: string;
}

export interface Effect {
  id: number;
  name: string;
  changes: Change[];
}

/** What has to be known of watches besides those that are changed. */
export interface Others {
  /** What those are called that ties lead to. */
  names: ReadonlyMap<number, string>;
  /** Those that rest on anything. */
  tied: readonly TiedWatch[];
}

/**
 * What would be different for each watch, in words; watches for which nothing would are left out. Throws a problem
 * when watches would come to rest on themselves.
 */
export function effectsOf(
  watches: readonly WatchWithStatus[],
  before: cascade.Levels,
  after: cascade.Levels,
  moved: ReadonlyMap<number, Moved> = new Map(),
  others: Others = { names: new Map(), tied: [] },
): Effect[] {
  const names = new Map([...others.names, ...watches.map(({ id, name }) => [id, name] as const)]);
  const tied = new Map([...others.tied, ...watches].map((watch) => [watch.id, { ...watch }]));
  const retied: number[] = [];
  const effects: Effect[] = [];
  for (const watch of watches) {
    const to = moved.get(watch.id) ?? watch;
    const resolved = resolvedAs(watch, to, after);
    const changes = cascade.changesBetween(resolvedAs(watch, watch, before), resolved);
    if (changes.length === 0) continue;
    if (changes.some((change) => change.name === 'restsOn')) {
      tied.get(watch.id)!.config = cascade.wholeConfig(to.own, resolved);
      retied.push(watch.id);
    }
    effects.push({
      id: watch.id,
      name: watch.name,
      changes: changes.map(({ name, ...change }) => {
        const words = sharedWords(name);
        const text = (value: unknown) => settingValueText(words, value, (id) => names.get(id));
        return {
          setting: wireName(name),
          label: words.label,
          before: text(change.before),
          after: text(change.after),
        };
      }),
    });
  }
  const circle = circleAmong([...tied.values()], retied);
  if (circle) throw refused([{ field: 'restsOn', message: `Expected no circle, got ${circle}.` }]);
  return effects;
}

/** Refuses ids to rest on that are no watches. */
export function checkRestsOn(values: cascade.Values, known: { has: (id: number) => boolean }): void {
  const ids = (values.restsOn ?? []) as number[];
  const missing = ids.find((id) => !known.has(id));
  if (missing === undefined) return;
  const message = `Expected ids of watches; there is no watch ${missing}.`;
  throw refused([{ field: 'restsOn', message }]);
}

/** A watch's own settings with shared ones put over them and some given back, as far as its kind has them. */
export function changedOwn(
  watch: WatchWithStatus,
  said: cascade.Values,
  inherit: readonly string[],
  usual: cascade.Levels['usual'],
): cascade.OwnConfig {
  const back = inherit.map(coreName);
  const known = cascade.sharedNames(watch.kind, usual);
  const own = cascade.ownValues(watch.kind, watch.own, usual);
  const fitting = Object.fromEntries(Object.entries(said).filter(([name]) => known.includes(name)));
  const merged = mergeValues(own, fitting, back);
  const bare = cascade.giveBack(watch.own, known);
  return cascade.wholeConfig(bare, { values: merged, from: {} }) as cascade.OwnConfig;
}
