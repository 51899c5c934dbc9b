import { describe, expect, it } from 'vitest';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import { stateOf } from '@/channels/kinds/mqtt';
import { outgoing } from './outgoing';

const down = { kind: 'down' as const, began: 0, noticed: 0, cause: 'port.refused' as const, detail: {} };
const real = outgoing({ event: down, watch: { id: 7, name: 'Kiosk' } });

describe('a message of a drill', () => {
  it('leaves the state alone that a home acts on', () => {
    expect(stateOf(real)).toMatchObject({ state: 'down', name: 'Kiosk' });
    expect(stateOf({ ...real, drill: true })).toBeNull();
  });

  it('is marked for programs', () => {
    expect(cloudEventOf(real)).not.toHaveProperty('drill');
    expect(cloudEventOf({ ...real, drill: true })).toMatchObject({ drill: true, type: 'lantern.down' });
  });
});
