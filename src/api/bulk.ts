import { bulkRowsOf, type BulkRow } from '../core/bulk-rows';
import { uniqueName } from '../core/unique-name';
import { parseTyped, type Typed } from '../probes/address';
import { probeKind, probeKinds } from '../probes/registry';
import { Problem } from './problem';
import { validateWatch, type Around } from './valid-watch';

/** What would be made of one line, or why nothing can be. */
export interface BulkVerdict {
  line: number;
  text: string;
  /** The body for POST /watches; null where the line cannot be used. */
  watch: Record<string, unknown> | null;
  kind: string;
  name: string;
  /** What is wrong, with what was expected. */
  problem: string | null;
  /** What was done to make it fit, or what to know. */
  note: string | null;
}

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
  if (!(error instanceof Problem)) throw error;
  return error.fields[0]?.message ?? error.detail;
}

/** Judges a pasted list line by line; nothing is made. */
export async function judgeBulk(text: string, around: Around): Promise<BulkVerdict[]> {
  const names = around.others.map((other) => other.name);
  const targets = new Set(
    around.others.map(({ kind, config }) =>
      config.type === 'probe' ? `${kind} ${probeKind(kind)?.targetOf(config.settings)}` : '',
    ),
  );
  const verdicts: BulkVerdict[] = [];
  for (const row of bulkRowsOf(text)) {
    verdicts.push(await judgeRow(row, around, names, targets));
  }
  return verdicts;
}

async function judgeRow(
  row: BulkRow,
  around: Around,
  names: string[],
  targets: Set<string>,
): Promise<BulkVerdict> {
  const verdict: BulkVerdict = {
    line: row.line,
    text: row.text,
    watch: null,
    kind: '',
    name: row.name,
    problem: null,
    note: null,
  };
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
  const body = {
    kind,
    name: row.name,
    section: row.section || null,
    settings,
    ...(row.every && { every: Number(row.every) }),
  };
  try {
    const valid = await validateWatch(body, around);
    const name = uniqueName(valid.name, names);
    names.push(name);
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
