import { bulkRowsOf, MOST_BULK_ROWS, type BulkRow } from '@/core/imports/bulk-rows';
import { spanSeconds } from '@/core/imports/timers';
import { TakenNames } from '@/core/settings/unique-name';
import { parseTyped, type Typed } from '@/probes/frame/address';
import { probeKind, probeKinds } from '@/probes/kinds/registry';
import type { WatchWithStatus } from '@/store/watches/watches';
import { Refusal } from '@/cases/frame/refusal';
import { validateWatch, type Around } from './valid-watch';
import type { BulkVerdict } from '@/core/imports/bulk-verdict';

const NO_VERDICT: Omit<BulkVerdict, 'line'> = {
  text: '',
  watch: null,
  kind: '',
  name: '',
  problem: null,
  note: null,
};

/** Settings for a kind from an address alone; null for kinds that need more than that. */
function settingsFrom(kind: string, row: BulkRow, typed: Typed): object | null {
  const { host, port } = typed;
  switch (kind) {
    case 'web':
      return { address: row.address };
    case 'port':
    case 'certificate':
      return { host, ...(port !== null && { port }) };
    case 'ping':
      return { host };
    case 'name':
      return { name: host };
    default:
      return null;
  }
}

/** A port without a path or a scheme is meant as a port; everything else as a page. */
function usualKind({ scheme, port, path }: Typed): string {
  return scheme === null && port !== null && path === '/' ? 'port' : 'web';
}

function problemText(error: unknown): string {
  if (!(error instanceof Refusal)) throw error;
  return error.fields[0]?.message ?? error.detail;
}

/** Judges a pasted list line by line; nothing is made. */
export async function judgeBulk(
  text: string,
  around: Around,
  others: readonly WatchWithStatus[],
): Promise<BulkVerdict[]> {
  const names = new TakenNames(others.map((other) => other.name));
  const targets = new Set(
    others.map(({ kind, config }) =>
      config.type === 'probe' ? `${kind} ${probeKind(kind)?.targetOf(config.settings)}` : '',
    ),
  );
  const verdicts: BulkVerdict[] = [];
  const { rows, left } = bulkRowsOf(text);
  for (const row of rows) verdicts.push(await judgeRow(row, around, names, targets));
  if (left > 0) {
    verdicts.push({
      ...NO_VERDICT,
      line: rows.at(-1)!.line + 1,
      problem: `At most ${MOST_BULK_ROWS} lines are taken at once; ${left} more stand from here on. Paste them in a second go.`,
    });
  }
  return verdicts;
}

async function judgeRow(
  row: BulkRow,
  around: Around,
  names: TakenNames,
  targets: Set<string>,
): Promise<BulkVerdict> {
  const verdict: BulkVerdict = { ...NO_VERDICT, line: row.line, text: row.text, name: row.name };
  const typed = parseTyped(row.address);
  if (!typed) {
    return {
      ...verdict,
      problem: `Expected an address such as booking.ternferry.test, got “${row.address}”.`,
    };
  }
  const kind = row.kind || usualKind(typed);
  const settings = settingsFrom(kind, row, typed);
  if (!settings) {
    const known = probeKinds().some((k) => k.id === kind);
    const problem = known
      ? `A watch of the kind ${kind} needs more than an address; make it by hand.`
      : `Expected kind to be web, port, certificate, ping or name, got “${kind}”.`;
    return { ...verdict, kind, problem };
  }
  const every = row.every === '' ? undefined : spanSeconds(row.every);
  if (every === null) {
    const problem = `Expected every to be seconds, or a length such as 30 s or 5 min, got “${row.every}”.`;
    return { ...verdict, kind, problem };
  }
  const body = {
    kind,
    name: row.name,
    section: row.section || null,
    settings,
    ...(every !== undefined && { everySeconds: every }),
  };
  try {
    const valid = await validateWatch(body, around);
    const name = names.give(valid.name);
    const target =
      valid.config.type === 'probe' ? `${kind} ${probeKind(kind)!.targetOf(valid.config.settings)}` : '';
    const twice = targets.has(target);
    targets.add(target);
    const note = twice
      ? 'It is watched already; tick it only if you mean it.'
      : name === valid.name
        ? null
        : `Another watch is called “${valid.name}”.`;
    return { ...verdict, kind, name, watch: { ...body, name }, note };
  } catch (error) {
    return { ...verdict, kind, problem: problemText(error) };
  }
}
