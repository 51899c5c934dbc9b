import type { Tone } from './tone';

/** What an open desk shows of a message. */
export interface Notice {
  id: string;
  title: string;
  lines: string[];
  link: string;
  tone: Tone;
  /** Whether it is to be heard, too. */
  sound: boolean;
  at: number;
}

/** The keys pushes are signed with (RFC 8292), as base64url. */
export interface PushKeys {
  publicKey: string;
  privateKey: string;
}
