import type { Knex } from 'knex';
import type Database from 'better-sqlite3';

/** A database whose own connection can be made to refuse, for what is written by prepared statements. */
export function faultyDb(db: Knex): {
  db: Knex /** Refuses from here on, or so many times. */;
  refuse: (error: Error | null, times?: number) => void;
  tries: () => number;
} {
  let fault: Error | null = null;
  let left = Infinity;
  let tries = 0;
  const real = db.client as {
    acquireConnection: () => Promise<Database.Database>;
    releaseConnection: (raw: Database.Database) => Promise<void>;
  };
  const client = {
    acquireConnection: () => {
      tries += 1;
      if (fault && left > 0) {
        left -= 1;
        return Promise.reject(fault);
      }
      return real.acquireConnection();
    },
    releaseConnection: (raw: Database.Database) => real.releaseConnection(raw),
  };
  const faulty = new Proxy(db, {
    get: (target, name) => (name === 'client' ? client : (Reflect.get(target, name) as unknown)),
  });
  return {
    db: faulty,
    refuse: (error, times = Infinity) => {
      fault = error;
      left = times;
    },
    tries: () => tries,
  };
}

export function sqliteError(code: string): Error {
  return Object.assign(new Error(code), { code });
}
