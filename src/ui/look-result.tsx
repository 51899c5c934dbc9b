import { formatBytes, formatDuration, formatMs } from '../core/duration';
import { PHASES, type Evidence, type Phases } from '../core/finding';
import { Time } from './zone';

const PHASE_NAMES: Record<keyof Phases, string> = {
  name: 'name',
  connect: 'connect',
  certificate: 'certificate',
  firstByte: 'first byte',
  download: 'download',
};

/** The phases of one look as bars after one another, each with its time. */
export function PhaseBars({ phases }: { phases: Phases }) {
  const present = PHASES.filter((phase) => phases[phase] !== undefined);
  const total = present.reduce((sum, phase) => sum + phases[phase]!, 0) || 1;
  return (
    <dl className="grid grid-cols-[6rem_1fr_4.5rem] items-center gap-y-1 text-[14.5px]">
      {present.map((phase, i) => {
        const before = present.slice(0, i).reduce((sum, earlier) => sum + phases[earlier]!, 0);
        return (
          <div key={phase} className="contents">
            <dt>{PHASE_NAMES[phase]}</dt>
            <div className="relative h-1.5" aria-hidden>
              <span
                className="bg-fine absolute h-full min-w-[3px] rounded-full"
                style={{ left: `${(before / total) * 97}%`, width: `${(phases[phase]! / total) * 97}%` }}
              />
            </div>
            <dd className="figures text-right">{formatMs(phases[phase]!)}</dd>
          </div>
        );
      })}
    </dl>
  );
}

/** Status, size, words and certificate of one look in a line or two. */
export function LookFacts({ evidence, now }: { evidence: Evidence; now: number }) {
  const { certificate } = evidence;
  const facts = [
    evidence.status !== undefined ? `status ${evidence.status}` : '',
    evidence.bytes ? formatBytes(evidence.bytes) : '',
    evidence.wordsFound !== undefined
      ? `words found ${evidence.wordsFound} ${evidence.wordsFound === 1 ? 'time' : 'times'}`
      : '',
    evidence.redirects ? `${evidence.redirects} ${evidence.redirects === 1 ? 'redirect' : 'redirects'}` : '',
    evidence.address ? `from ${evidence.address}` : '',
  ].filter(Boolean);
  return (
    <div className="text-muted mt-2 text-[14px]">
      <p>{facts.join(' · ')}</p>
      {certificate && (
        <p>
          Certificate for {certificate.names.slice(0, 2).join(', ') || certificate.subject} by{' '}
          {certificate.issuer}, from <Time at={certificate.validFrom} as="day" /> to{' '}
          <Time at={certificate.validTo} as="day" />
          {certificate.validTo > now ? `: good for ${formatDuration(certificate.validTo - now)}` : ''}.
        </p>
      )}
    </div>
  );
}
