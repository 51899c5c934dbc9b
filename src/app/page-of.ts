import { notFound } from 'next/navigation';
import { serverContext } from '@/server/context';
import { fetchPage, type Page } from '@/store/pages/pages';

/** The public page a path names by its id; "not found" for anything else. */
export async function pageOfPath(id: string): Promise<Page> {
  const page = /^\d{1,15}$/.test(id) ? await fetchPage(serverContext().db, Number(id)) : null;
  if (!page) notFound();
  return page;
}
