import type { CertificateFacts, Evidence, Phases, StepTaken } from '@/core/causes/finding';

/** What the API tells of a look, as far as it is shown. */
export interface LookAnswer {
  at: string;
  verdict: 'fine' | 'slow' | 'failed';
  tookMs: number;
  sentence?: string;
  advice?: string;
  evidence?: EvidenceAnswer;
}

type EvidenceAnswer = Omit<Evidence, 'phases' | 'certificate' | 'steps'> & {
  phases?: Record<string, number>;
  certificate?: Omit<CertificateFacts, 'validFrom' | 'validTo'> & {
    validFromAt: string | null;
    validUntilAt: string | null;
  };
  steps?: (Omit<StepTaken, 'ms'> & { tookMs: number })[];
};

const momentOf = (text: string | null) => (text === null ? null : Date.parse(text));

/** The evidence of an answer as screens show it: units in names are for programs. */
export function evidenceOf({ phases, certificate, steps, ...rest }: EvidenceAnswer): Evidence {
  return {
    ...rest,
    ...(phases && {
      phases: Object.fromEntries(
        Object.entries(phases).map(([name, ms]) => [name.replace(/Ms$/, ''), ms]),
      ) as Phases,
    }),
    ...(certificate && {
      certificate: {
        ...certificate,
        validFrom: momentOf(certificate.validFromAt),
        validTo: momentOf(certificate.validUntilAt),
      },
    }),
    ...(steps && { steps: steps.map(({ tookMs, ...step }) => ({ ...step, ms: tookMs })) }),
  };
}
