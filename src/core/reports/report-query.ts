import { REPORT_KINDS, type ReportKind } from '@/core/lifecycle/status';

const LONGEST_RUN_ID = 100;
const NAMES = ['is', 'code', 'run', 'progress', 'took'];
const LONGEST_RUN_S = 30 * 86_400;

/** What a job said, as the query of its request has it. */
export interface Said {
  kind: ReportKind;
  code: number | null;
  run: string | null;
  /** From 0 to 100. */
  progress: number | null;
  /** How long the run took by its own clock, in milliseconds. */
  took: number | null;
}

function shortened(text: string): string {
  return `"${text.slice(0, 40)}"`;
}

/** Reads what a job said from the query of its request; a text is what is wrong with it. */
export function readReport(query: URLSearchParams): Said | string {
  const strange = [...query.keys()].find((name) => !NAMES.includes(name));
  if (strange !== undefined)
    return `Expected only is, code, run, progress and took, got ${shortened(strange)}.`;
  const [is, code, run, far, took] = NAMES.map((name) => query.get(name));
  if (is !== null && !REPORT_KINDS.includes(is as ReportKind)) {
    return `Expected is to be begun, done, failed or note, got ${shortened(is!)}.`;
  }
  if (code !== null && !/^-?\d{1,10}$/.test(code!)) {
    return `Expected code to be an exit status such as 0, got ${shortened(code!)}.`;
  }
  if (code !== null && is !== null && is !== 'done' && is !== 'failed') {
    return `Expected code only with done or failed, got it with ${is}.`;
  }
  if (run !== null && (run === '' || run!.length > LONGEST_RUN_ID)) {
    return `Expected run to be 1 to ${LONGEST_RUN_ID} characters, got ${run!.length}.`;
  }
  if (far !== null && !(/^\d{1,3}(\.\d{1,3})?$/.test(far!) && Number(far) <= 100)) {
    return `Expected progress to be a number from 0 to 100, got ${shortened(far!)}.`;
  }
  if (far !== null && is !== null && is !== 'note' && is !== 'begun') {
    return `Expected progress only with a note or begun, got it with ${is}.`;
  }
  if (took !== null && !(/^\d{1,7}(\.\d{1,3})?$/.test(took!) && Number(took) <= LONGEST_RUN_S)) {
    return `Expected took to be seconds from 0 to ${LONGEST_RUN_S}, got ${shortened(took!)}.`;
  }
  const status = code === null ? null : Number(code);
  const kind = (is as ReportKind | null) ?? (far === null ? 'done' : 'note');
  return {
    kind: status !== null && status !== 0 && kind === 'done' ? 'failed' : kind,
    code: status,
    run: run ?? null,
    progress: far === null ? null : Number(far),
    took: took === null ? null : Math.round(Number(took) * 1000),
  };
}
