import { wireName, wireOf } from '@/core/settings/wire-names';
import type { WatchWithStatus } from '@/store/watches/watches';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';

type Body = Record<string, unknown>;

/** What is said of a watch beside its settings; it may be sent back as it was read. */
const READ_ONLY = [
  'sources',
  'state',
  'stateSinceAt',
  'createdAt',
  'lastFinding',
  'checkinAddress',
  'mailAddress',
  'checkinName',
  'oldAddress',
];

function same(a: unknown, b: unknown): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/**
 * What a body that was read, edited and sent back changes. What comes from farther away and was left as it is stays
 * there: it does not become the watch's own by being repeated.
 */
export function changedBody(watch: WatchWithStatus, sent: Body): Body {
  const { type: _, ...config } = watch.config as unknown as Body & { type: string };
  const held = wireOf(config);
  const inherited = (name: string) => (watch.from[name] ?? 'watch') !== 'watch';
  const repeated = Object.keys(watch.from)
    .filter(inherited)
    .filter((name) => !name.startsWith('settings.') && same(sent[wireName(name)], held[wireName(name)]))
    .map(wireName);
  const change = Object.fromEntries(
    Object.entries(withoutReadOnly(sent, READ_ONLY)).filter(([name]) => !repeated.includes(name)),
  );
  if (typeof sent.id === 'number' && sent.id !== watch.id) {
    throw refused([{ field: 'id', message: `Expected id to be ${watch.id}, got ${sent.id}.` }]);
  }
  if (typeof sent.settings === 'object' && sent.settings !== null && watch.config.type === 'probe') {
    const settings = watch.config.settings as Body;
    const kept = Object.entries(sent.settings).filter(
      ([name, value]) => !inherited(`settings.${name}`) || !same(value, settings[name]),
    );
    change.settings = Object.fromEntries(kept);
  }
  return change;
}
