/**
 * What a person or program may do, the least first: look at everything; write incidents and public pages; do the daily
 * work; everything. `nobody` is for the two things that are done before anybody is known: signing in and the first
 * account.
 */
export const RIGHTS = ['look', 'write', 'operate', 'keep'] as const;

export type Right = (typeof RIGHTS)[number];
