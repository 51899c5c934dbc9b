import { formatBytes, formatDuration, formatMs } from '@/core/time/duration';
import {
  PHASES,
  type CertificateFacts,
  type Evidence,
  type Phases,
  type StepTaken,
} from '@/core/causes/finding';
import { Time } from '@/ui/form/zone';

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
    <dl className="grid grid-cols-[6rem_1fr_4.5rem] items-center gap-y-1 text-[0.9062rem]">
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

/** Each step of a journey with its time; the one that broke stands out. */
function Steps({ steps }: { steps: readonly StepTaken[] }) {
  return (
    <ol className="mt-2 text-[0.9062rem]" aria-label="Steps">
      {steps.map((step, i) => (
        <li key={i} className="border-rule flex gap-3 border-t py-1">
          <span className="figures text-muted w-5">{i + 1}</span>
          <span className={step.result === 'failed' ? 'text-down-text font-semibold' : ''}>{step.name}</span>
          <span className="figures text-muted ml-auto">
            {step.result === 'not-reached'
              ? 'not reached'
              : `${step.status ?? ''} ${formatMs(step.ms)}`.trim()}
          </span>
        </li>
      ))}
    </ol>
  );
}

function Certificate({ certificate, now }: { certificate: CertificateFacts; now: number }) {
  const { names, subject, issuer, validFrom, validTo, protocol, key, chain = [] } = certificate;
  return (
    <p>
      Certificate for {names.slice(0, 2).join(', ') || subject} by {issuer}
      {validFrom !== null && validTo !== null && (
        <>
          , from <Time at={validFrom} as="day" /> to <Time at={validTo} as="day" />
          {validTo > now ? `: good for ${formatDuration(validTo - now)}` : ''}
        </>
      )}
      . {[protocol, key, chain.length > 1 ? `chain: ${chain.join(' → ')}` : ''].filter(Boolean).join(' · ')}
    </p>
  );
}

/** Status, size, words, certificate and whatever else one look learnt. */
export function LookFacts({ evidence, now }: { evidence: Evidence; now: number }) {
  const { certificate, facts = [], steps = [] } = evidence;
  const short = [
    evidence.status !== undefined ? `status ${evidence.status}` : '',
    evidence.bytes ? formatBytes(evidence.bytes) : '',
    evidence.wordsFound !== undefined
      ? `words found ${evidence.wordsFound} ${evidence.wordsFound === 1 ? 'time' : 'times'}`
      : '',
    evidence.redirects ? `${evidence.redirects} ${evidence.redirects === 1 ? 'redirect' : 'redirects'}` : '',
    evidence.address ? `from ${evidence.address}` : '',
  ].filter(Boolean);
  return (
    <div className="text-muted mt-2 text-[0.875rem]">
      {steps.length > 0 && <Steps steps={steps} />}
      <p>{short.join(' · ')}</p>
      {evidence.unchecked && (
        <p className="text-late-text font-semibold">
          The certificate is not checked: anybody in between could answer in its place.
        </p>
      )}
      {certificate && <Certificate certificate={certificate} now={now} />}
      {facts.length > 0 && (
        <dl className="mt-1 grid grid-cols-[max-content_minmax(0,1fr)] gap-x-3">
          {facts.map((fact, i) => (
            <div key={i} className="contents">
              <dt>{fact.label}</dt>
              <dd className="figures text-ink break-words">{fact.value}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
