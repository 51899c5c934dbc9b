'use client';

import { callApi } from '@/ui/basic/call-api';

/** Signs out. */
export async function leave(): Promise<void> {
  await callApi('DELETE', '/api/session');
  window.location.assign('/sign-in');
}
