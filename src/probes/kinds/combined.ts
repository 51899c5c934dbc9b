import * as f from '@/core/settings/fields';
import { array, number, object } from 'yup';
import type { Finding } from '@/core/causes/finding';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';

interface CombinedSettings {
  parts: number[];
  rule: 'all' | 'any' | 'at least';
  least: number;
}

const schema = object({
  parts: array(number().integer().required())
    .default([])
    .min(1, 'Expected at least one other watch, got none.')
    .max(200, 'Expected at most 200 watches.')
    .meta({ description: 'The ids of the watches it is put together from.' }),
  rule: s.oneOf('How many of them must be up.', ['all', 'any', 'at least'] as const, 'all'),
  least: s
    .someNumber('How many must be up, for “at least”.', 1, 200, 1)
    .test('least', 'Expected no more than there are.', function check(value) {
      const { parts, rule } = this.parent as CombinedSettings;
      return rule !== 'at least' || value <= parts.length
        ? true
        : this.createError({
            message: `Expected at most ${parts.length}, the number of its watches; got ${value}.`,
          });
    }),
});

function neededOf({ rule, parts, least }: CombinedSettings): number {
  return rule === 'all' ? parts.length : rule === 'any' ? 1 : Math.min(least, parts.length);
}

/** Puts the states of other watches together. Those that are paused, in maintenance or gone are left out. */
function look(given: CombinedSettings, context: LookContext): Promise<Finding> {
  const settings = { ...combined.defaults, ...given };
  return carryOut(
    context,
    { host: '', port: 0, timeoutMs: context.timeoutMs },
    () => [['content', 'its watches']],
    async (run) => {
      const others = settings.parts
        .map((id) => context.other?.(id) ?? null)
        .filter((other) => other !== null && other.state !== 'paused' && other.state !== 'maintenance');
      const unknown = others.filter((other) => other!.state === 'waiting');
      const down = others.filter((other) => other!.state === 'down');
      for (const other of others.slice(0, 50)) run.fact(other!.name, other!.state);
      const needed = Math.min(neededOf(settings), others.length);
      if (others.length === 0) run.fail('look.no-parts', {});
      if (others.length - down.length >= needed) {
        // While too many are not known yet, nothing can be said.
        if (others.length - down.length - unknown.length < needed) run.fail('look.no-parts', {});
        return;
      }
      const names = down.map((other) => other!.name);
      const shown =
        names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
      run.fail('parts.down', { down: down.length, all: others.length, names: shown });
    },
  );
}

export const combined: ProbeKind<CombinedSettings> = {
  id: 'combined',
  title: 'combined',
  help: 'Puts other watches together: up while all, any, or at least so many of them are up.',
  ...checkedBy<CombinedSettings>(schema),
  every: 60,
  fields: [
    f.watches('parts', 'Its watches', 'At least one.'),
    f.choice('rule', 'It is up while', 'Watches that are paused or in maintenance are left out.', [
      ['all', 'all of them are up'],
      ['any', 'any of them is up'],
      ['at least', 'at least so many are up'],
    ]),
    f.number('least', 'At least', 'How many must be up.', { when: { field: 'rule', is: ['at least'] } }),
  ],
  hostOf: () => '',
  targetOf: ({ parts }) => `${parts.length} ${parts.length === 1 ? 'watch' : 'watches'}`,
  nameOf: ({ parts }) => `${parts.length} watches together`,
  walkTo: () => null,
  partsOf: (settings) => settings.parts,
  verdictSentence: (settings) => {
    const needed = neededOf(settings);
    return settings.rule === 'all'
      ? 'Fails when any of its watches is down.'
      : `Fails when fewer than ${needed} of its ${settings.parts.length} watches are up.`;
  },
  look,
};
