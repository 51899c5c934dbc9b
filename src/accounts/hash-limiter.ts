/** Hashing a password takes 64 MiB and a tenth of a second of one core: so many at once, and so many may wait. */
const MOST_AT_ONCE = 2;
const MOST_WAITING = 16;

export class TooBusyError extends Error {
  override name = 'TooBusyError';
}

let atWork = 0;
const waiting: (() => void)[] = [];

/** Runs work that takes much of the processor when there is room; refuses where too many wait already. */
export async function withHashSlot<T>(work: () => Promise<T>): Promise<T> {
  if (atWork >= MOST_AT_ONCE) {
    if (waiting.length >= MOST_WAITING) throw new TooBusyError('Too many passwords are being tried at once.');
    await new Promise<void>((resolve) => waiting.push(resolve));
  } else {
    atWork += 1;
  }
  try {
    return await work();
  } finally {
    // The place goes to the next in the row, or is free.
    const next = waiting.shift();
    if (next) next();
    else atWork -= 1;
  }
}
