/** What a report of delivery says of one recipient (RFC 3464, section 2.3). */
export interface Bounce {
  /** The enhanced status code (RFC 3463): "5.1.1". */
  status: string;
  /** What the server said, in its own words. */
  said: string;
}

const MOST_SAID = 300;

/** The value of a field of a report; folded lines are joined (RFC 5322, section 2.2.3). */
function fieldOf(text: string, name: string): string | null {
  const unfolded = text.replace(/\r?\n[ \t]+/g, ' ');
  return new RegExp(`^${name}:[ \\t]*(.*)$`, 'im').exec(unfolded)?.[1]?.trim() ?? null;
}

/**
 * Why a letter came back for good, from the machine's part of a report (message/delivery-status); null where it was
 * delivered, is only late, or says no such thing.
 */
export function readBounce(report: string): Bounce | null {
  if (fieldOf(report, 'Action')?.toLowerCase() !== 'failed') return null;
  const status = /^[245]\.\d{1,3}\.\d{1,3}\b/.exec(fieldOf(report, 'Status') ?? '')?.[0];
  if (!status?.startsWith('5')) return null;
  // "smtp; 550 5.1.1 …": the kind of the code, and the code.
  const said = (fieldOf(report, 'Diagnostic-Code') ?? '').replace(/^[\w-]+;\s*/, '');
  return { status, said: said.slice(0, MOST_SAID) };
}

/** Whether what came back says that there is no such address, or that it takes nothing more: 5.1 and 5.2 (RFC 3463). */
export function isDeadAddress({ status, said }: Bounce): boolean {
  // Many servers say no more than 5.0.0, and the rest in words.
  const code = status.startsWith('5.0.') ? (/\b5\.\d{1,3}\.\d{1,3}\b/.exec(said)?.[0] ?? status) : status;
  return (
    /^5\.[12]\./.test(code) ||
    (code.startsWith('5.0.') && /\b(?:unknown|no such|does not exist|not found)\b/i.test(said))
  );
}
