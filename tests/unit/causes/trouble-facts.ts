import type { TroubleFacts } from '@/core/causes/machines';

export const T0 = Date.parse('2026-11-23T09:00:00Z');

/** A trouble of which nothing is known but that a port refuses. */
export const BARE_TROUBLE: TroubleFacts = {
  watchId: 0,
  name: '',
  began: T0,
  cause: 'port.refused',
  host: null,
  port: null,
  address: null,
  resolver: null,
  carries: false,
  certificate: null,
  restsOn: [],
  hostAnswers: null,
};
