'use client';

import { useZone } from '@/ui/form/zone';

/** Says in which zone the times of a page are. */
export function ZoneName() {
  return <span>Times in {useZone().replaceAll('_', ' ')}</span>;
}
