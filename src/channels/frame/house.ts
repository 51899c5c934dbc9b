import type { Notice, PushKeys } from '@/core/messages/notice';

/** Whether mail addresses want messages; those who did not say so are sent nothing but the question. */
export interface Consent {
  isGiven: (address: string) => Promise<boolean>;
  /** Where an address says that it wants messages; null where it was asked not long ago. */
  ask: (address: string) => Promise<string | null>;
  /** The question did not go out: it may be asked again at once. */
  forget: (address: string) => Promise<void>;
}

/** What channels may use of the house they run in. */
export interface House {
  /** Shows a notice in every desk that is open. */
  notify: (notice: Notice) => void;
  /** The folder scripts may be run from; null where none may. */
  scripts: string | null;
  pushKeys: () => Promise<PushKeys>;
  consent: Consent;
}

/** Where there is none of it: no desk, no scripts, no keys, and nobody to be asked. */
export const NO_HOUSE: House = {
  notify: () => undefined,
  scripts: null,
  pushKeys: () => Promise.reject(new Error('no device was switched on here')),
  consent: {
    isGiven: () => Promise.resolve(true),
    ask: () => Promise.resolve(null),
    forget: () => Promise.resolve(),
  },
};
