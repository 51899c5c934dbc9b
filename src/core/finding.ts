import type { CauseCode, CauseDetail } from './causes';

/** The phases of one look in milliseconds, each the time it took by itself; absent when it did not happen. */
export interface Phases {
  name?: number;
  connect?: number;
  certificate?: number;
  firstByte?: number;
  download?: number;
}

export const PHASES: readonly (keyof Phases)[] = ['name', 'connect', 'certificate', 'firstByte', 'download'];

export interface CertificateFacts {
  subject: string;
  issuer: string;
  names: string[];
  validFrom: number;
  validTo: number;
}

/** The layers of one look in order, from the name to the content. */
export const RUNGS = ['name', 'port', 'certificate', 'reply', 'content'] as const;

export interface Rung {
  rung: (typeof RUNGS)[number];
  label: string;
  result: 'fine' | 'failed' | 'not-reached';
}

/** What a look learnt besides its verdict. */
export interface Evidence {
  phases?: Phases;
  ladder?: Rung[];
  status?: number;
  bytes?: number;
  address?: string;
  finalUrl?: string;
  redirects?: number;
  certificate?: CertificateFacts;
  wordsFound?: number;
}

interface Looked {
  /** When the look began, ms since 1970. */
  at: number;
  /** Whole time of the look in milliseconds. */
  ms: number;
  evidence?: Evidence;
}

/** What one look came to. */
export type Finding =
  | (Looked & { verdict: 'fine'; cause?: undefined; detail?: undefined })
  | (Looked & { verdict: 'failed'; cause: CauseCode; detail: CauseDetail });
