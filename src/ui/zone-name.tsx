'use client';

import { useZone } from './zone';

/** Says in which zone the times of a page are. */
export function ZoneName() {
  return <span>Times in {useZone().replaceAll('_', ' ')}</span>;
}
