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
  /** Milliseconds since 1970; null where the certificate's own dates cannot be read. */
  validFrom: number | null;
  validTo: number | null;
  /** SHA-256 of the certificate, in hex. */
  fingerprint?: string;
  /** Such as "TLSv1.3". */
  protocol?: string;
  /** Such as "RSA 2048" or "EC P-256". */
  key?: string;
  /** The common names from the certificate up to its root, as the server sent them. */
  chain?: string[];
}

/** The layers of one look in order, from the name to the content. */
export const RUNGS = ['name', 'host', 'port', 'certificate', 'reply', 'content'] as const;

export type RungName = (typeof RUNGS)[number];
export type RungResult = 'fine' | 'failed' | 'not-reached' | 'unknown';

export interface Rung {
  rung: RungName;
  label: string;
  result: RungResult;
  /** What was seen on this rung, in a few words. */
  note?: string;
}

/** The first part of what answered; secrets and cookies are blanked before it comes here. */
export interface Excerpt {
  statusLine?: string;
  headers?: [string, string][];
  body?: string;
}

/** One step of a journey. */
export interface StepTaken {
  name: string;
  ms: number;
  result: RungResult;
  status?: number;
}

/** A number that was read, with its unit. */
export interface Reading {
  value: number;
  unit: string;
}

/** What a look learnt besides its verdict. */
export interface Evidence {
  phases?: Phases;
  ladder?: Rung[];
  status?: number;
  bytes?: number;
  address?: string;
  /** Every address the name stands for, as far as they were tried. */
  addresses?: string[];
  finalUrl?: string;
  redirects?: number;
  certificate?: CertificateFacts;
  /** The certificate was not checked, because the settings say so. */
  unchecked?: boolean;
  wordsFound?: number;
  /** Further facts in the order they are shown. */
  facts?: { label: string; value: string }[];
  excerpt?: Excerpt;
  steps?: StepTaken[];
  reading?: Reading;
  /** What the next looks are compared with, where the settings ask for no change. */
  baseline?: string;
  /** When the value that is now seen was seen first, ms since 1970. */
  seenSince?: number;
  /** The layers walked one by one towards the same target after a first failure. */
  walk?: Rung[];
}

interface Looked {
  /** When the look began, ms since 1970. */
  at: number;
  /** Whole time of the look in milliseconds. */
  ms: number;
  evidence?: Evidence;
}

/** What one look came to. A look that is slow by its time alone is fine here: the limit is the watch's. */
export type Finding =
  | (Looked & { verdict: 'fine'; cause?: undefined; detail?: undefined })
  | (Looked & { verdict: 'slow'; cause: CauseCode; detail: CauseDetail })
  | (Looked & { verdict: 'failed'; cause: CauseCode; detail: CauseDetail });

export type FailedFinding = Finding & { verdict: 'failed' };
