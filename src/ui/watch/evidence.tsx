import { troubleSentence } from '@/core/causes/ladder-text';
import type { Evidence } from '@/core/causes/finding';
import type { KeptEvidence } from '@/store/history/evidence';
import { Ladder } from './ladder';
import { LookFacts } from './look-result';
import { Time } from '@/ui/form/zone';

/** What answered, as text: status line, headers, the beginning of the body. Never run as markup. */
function Answer({ excerpt }: { excerpt: NonNullable<Evidence['excerpt']> }) {
  const { statusLine, headers = [], body } = excerpt;
  const head = [statusLine, ...headers.map(([name, value]) => `${name}: ${value}`)]
    .filter(Boolean)
    .join('\n');
  return (
    <pre
      tabIndex={0}
      aria-label="What answered"
      className="figures bg-quiet mt-2 max-h-72 overflow-auto rounded p-3 text-[0.7812rem] whitespace-pre-wrap"
    >
      {[head, body].filter(Boolean).join('\n\n')}
    </pre>
  );
}

/** Everything that was seen in one failing look. */
export function EvidenceDetails({ evidence, now }: { evidence: Evidence; now: number }) {
  return (
    <div>
      <Ladder rungs={evidence.walk ?? evidence.ladder ?? []} notes />
      <LookFacts evidence={evidence} now={now} />
      {evidence.addresses && evidence.addresses.length > 1 && (
        <p className="text-muted text-[0.875rem]">addresses: {evidence.addresses.join(', ')}</p>
      )}
      {evidence.excerpt && <Answer excerpt={evidence.excerpt} />}
    </div>
  );
}

/** The evidence of first failing looks and of each change of cause, folded away. */
export function EvidenceList({ kept, now }: { kept: readonly KeptEvidence[]; now: number }) {
  if (kept.length === 0) return null;
  return (
    <section className="sheet p-4">
      <h2>What was seen</h2>
      <p className="text-muted text-[0.875rem]">
        Kept when a look first fails, and when it fails in a new way. Secrets and cookies are blanked.
      </p>
      <ol className="mt-1">
        {kept.map(({ at, cause, detail, evidence }) => (
          <li key={at} className="border-rule border-t py-2">
            <details>
              <summary className="cursor-pointer">
                <span className="figures text-muted mr-3 text-[0.8438rem]">
                  <Time at={at} />
                </span>
                {troubleSentence(cause, detail, evidence.walk ?? [])}
              </summary>
              <EvidenceDetails evidence={evidence} now={now} />
            </details>
          </li>
        ))}
      </ol>
    </section>
  );
}
