import { notFound } from 'next/navigation';
import { asKnown } from '@/core/settings/known-state';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchWatch, type WatchWithStatus } from '@/store/watches/watches';

/** The watch a path names; "not found" for anything else. */
export async function watchOfPath(id: string): Promise<WatchWithStatus> {
  const watch = /^\d{1,15}$/.test(id) ? await fetchWatch(serverContext().db, Number(id)) : null;
  if (!watch) notFound();
  return asKnown(watch, requestTime());
}
