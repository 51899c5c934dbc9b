import type { Db } from '@/store/db/connection';

/** The same mailbox for us: domains make no difference between cases, and nobody does in practice (RFC 5321, 2.4). */
export function mailboxOf(address: string): string {
  return address.trim().toLowerCase();
}

/** Whether an address said that it wants messages; those of accounts need not be asked. */
export async function isConfirmed(db: Db, address: string): Promise<boolean> {
  const mailbox = mailboxOf(address);
  const known = await db('mail_addresses').where({ address: mailbox }).whereNotNull('confirmed_at').first();
  if (known) return true;
  return Boolean(await db('accounts').whereRaw('lower(email) = ?', [mailbox]).first('id'));
}

/** Notes that an address is asked; false where that was done since a time. */
export async function saveAsked(db: Db, address: string, at: number, notSince: number): Promise<boolean> {
  const mailbox = mailboxOf(address);
  const known = await db('mail_addresses').where({ address: mailbox }).first();
  // A clock that was set back asks once more.
  if (known && known.asked_at > notSince && known.asked_at <= at) return false;
  await db('mail_addresses')
    .insert({ address: mailbox, asked_at: at, confirmed_at: null })
    .onConflict('address')
    .merge({ asked_at: at });
  return true;
}

/** It could not be asked after all, and may be at the next try. */
export async function forgetAsked(db: Db, address: string): Promise<void> {
  await db('mail_addresses')
    .where({ address: mailboxOf(address), confirmed_at: null })
    .update({ asked_at: 0 });
}

export async function saveConfirmed(db: Db, address: string, at: number): Promise<void> {
  await db('mail_addresses')
    .insert({ address: mailboxOf(address), asked_at: at, confirmed_at: at })
    .onConflict('address')
    .merge({ confirmed_at: at });
}
