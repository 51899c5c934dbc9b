import type { Notice, PushKeys } from '@/core/messages/notice';

/** What channels may use of the house they run in. */
export interface House {
  /** Shows a notice in every desk that is open. */
  notify: (notice: Notice) => void;
  /** The folder scripts may be run from; null where none may. */
  scripts: string | null;
  pushKeys: () => Promise<PushKeys>;
}

/** Where there is none of it: no desk, no scripts, no keys. */
export const NO_HOUSE: House = {
  notify: () => undefined,
  scripts: null,
  pushKeys: () => Promise.reject(new Error('no device was switched on here')),
};
